#include "widgets/accessible.h"

#include <QAccessible>
#include <QAccessibleWidget>
#include <QWidget>

namespace ilvek::app {

namespace {

// The value of a drawn part is its description: the figure with its verdict, the step, the gate's sentence.
class DrawnPart : public QAccessibleWidget, public QAccessibleValueInterface {
public:
    DrawnPart(QWidget* widget, QAccessible::Role role) : QAccessibleWidget(widget, role) {}

    void* interface_cast(QAccessible::InterfaceType type) override
    {
        if (type == QAccessible::ValueInterface) return static_cast<QAccessibleValueInterface*>(this);
        return QAccessibleWidget::interface_cast(type);
    }
    QVariant currentValue() const override { return widget()->accessibleDescription(); }
    void setCurrentValue(const QVariant&) override {}
    QVariant maximumValue() const override { return {}; }
    QVariant minimumValue() const override { return {}; }
    QVariant minimumStepSize() const override { return {}; }
};

QAccessibleInterface* drawnPart(const QString& className, QObject* object)
{
    auto* widget = qobject_cast<QWidget*>(object);
    if (!widget) return nullptr;
    if (className == QLatin1String("ilvek::app::LoopStrip")) return new DrawnPart(widget, QAccessible::Chart);
    for (const char* name : {"ReadingDock", "ConnectorFace", "GatePanel", "StepCard"}) {
        if (className == QLatin1String("ilvek::app::") + QLatin1String(name))
            return new DrawnPart(widget, QAccessible::StaticText);
    }
    return nullptr;
}

}  // namespace

void installAccessibility()
{
    static const bool installed = [] {
        QAccessible::installFactory(drawnPart);
        return true;
    }();
    static_cast<void>(installed);
}

}  // namespace ilvek::app
