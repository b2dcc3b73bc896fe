#include "theme.h"

#include <QApplication>
#include <QFontDatabase>
#include <QPainter>
#include <QRegularExpression>
#include <QStyleFactory>
#include <QStyleOption>
#include <cmath>

namespace ilvek::app {

namespace {

thread_local int onPaper = 0;  // how many of them live
bool useNight = false;

class Style : public QProxyStyle {
public:
    Style() : QProxyStyle(QStyleFactory::create(QStringLiteral("fusion"))) {}

    int pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const override
    {
        return metric == PM_ScrollBarExtent ? 11 : QProxyStyle::pixelMetric(metric, option, widget);
    }

    void drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* painter,
                       const QWidget* widget) const override
    {
        const Theme& t = Theme::current();
        if (element == PE_FrameFocusRect) {
            painter->save();
            painter->setRenderHint(QPainter::Antialiasing);
            painter->setPen(QPen(t.accent, 2));
            painter->setBrush(Qt::NoBrush);
            painter->drawRoundedRect(QRectF(option->rect).adjusted(1, 1, -1, -1), 4, 4);
            painter->restore();
            return;
        }
        if (element == PE_FrameLineEdit || element == PE_Frame) {
            painter->save();
            painter->setRenderHint(QPainter::Antialiasing);
            const bool focused = option->state & State_HasFocus;
            painter->setPen(QPen(focused ? t.accent : t.line, focused ? 2 : 1));
            painter->drawRoundedRect(QRectF(option->rect).adjusted(1, 1, -1, -1), 4, 4);
            painter->restore();
            return;
        }
        if (element == PE_PanelButtonCommand) {
            painter->save();
            painter->setRenderHint(QPainter::Antialiasing);
            painter->setPen(
                QPen(option->state & State_HasFocus ? t.accent : t.line, option->state & State_HasFocus ? 2 : 1));
            painter->setBrush(option->state & State_Sunken      ? t.band
                              : option->state & State_MouseOver ? t.bar
                                                                : t.panel);
            painter->drawRoundedRect(QRectF(option->rect).adjusted(1, 1, -1, -1), 5, 5);
            painter->restore();
            return;
        }
        QProxyStyle::drawPrimitive(element, option, painter, widget);
    }
};

double luminance(const QColor& c)
{
    const auto linear = [](double s) { return s <= 0.03928 ? s / 12.92 : std::pow((s + 0.055) / 1.055, 2.4); };
    return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
}

}  // namespace

const Theme& Theme::light()
{
    static const Theme theme{QColor(0xf4f2ec), QColor(0xfdfcf9),
                             QColor(0xe7e2d6), QColor(0x1a2126),
                             QColor(0x46505a), QColor(0xbdb8aa),
                             QColor(0x0b5563), QColor(0xffffff),
                             QColor(0x1a5a42), QColor(0x6a4600),
                             QColor(0x8f1d17), QColor(0xcfe3e0),
                             QColor(0x2b353b), false};
    return theme;
}

const Theme& Theme::nightly()
{
    static const Theme theme{QColor(0x12171a), QColor(0x1b2226),
                             QColor(0x0c1012), QColor(0xeef1f2),
                             QColor(0xb6c0c6), QColor(0x46535b),
                             QColor(0x86cfdd), QColor(0x0c1012),
                             QColor(0x93d9b4), QColor(0xf1cf7d),
                             QColor(0xffb3a9), QColor(0x27464c),
                             QColor(0xc9d2d6), true};
    return theme;
}

const Theme& Theme::current()
{
    return useNight && onPaper == 0 ? nightly() : light();
}

Theme::OnPaper::OnPaper()
{
    ++onPaper;
}

Theme::OnPaper::~OnPaper()
{
    --onPaper;
}

void Theme::use(bool night)
{
    useNight = night;
    QApplication::setPalette(paletteOf(current()));
}

QFont face(int size_px, int weight)
{
    QFont font(QStringLiteral("Lato"));
    font.setPixelSize(size_px);
    font.setWeight(static_cast<QFont::Weight>(weight));
    return font;
}

void loadFonts()
{
    for (const char* name : {"Regular", "Italic", "Bold", "BoldItalic", "Semibold"})
        QFontDatabase::addApplicationFont(QStringLiteral(":/fonts/Lato-%1.ttf").arg(QLatin1String(name)));
    QApplication::setFont(face(15));
}

QPalette paletteOf(const Theme& t)
{
    QPalette p;
    p.setColor(QPalette::Window, t.paper);
    p.setColor(QPalette::WindowText, t.ink);
    p.setColor(QPalette::Base, t.panel);
    p.setColor(QPalette::AlternateBase, t.paper);
    p.setColor(QPalette::Text, t.ink);
    p.setColor(QPalette::PlaceholderText, t.dim);
    p.setColor(QPalette::Button, t.bar);
    p.setColor(QPalette::ButtonText, t.ink);
    p.setColor(QPalette::Highlight, t.accent);
    p.setColor(QPalette::HighlightedText, t.onAccent);
    p.setColor(QPalette::ToolTipBase, t.panel);
    p.setColor(QPalette::ToolTipText, t.ink);
    p.setColor(QPalette::Link, t.accent);
    p.setColor(QPalette::Mid, t.line);
    p.setColor(QPalette::Dark, t.line.darker(120));
    p.setColor(QPalette::Disabled, QPalette::Text, t.dim);
    p.setColor(QPalette::Disabled, QPalette::ButtonText, t.dim);
    return p;
}

QStyle* makeStyle()
{
    return new Style;
}

QString unbroken(const std::string& text)
{
    static const QRegularExpression figure(QStringLiteral("(\\d) (?=[mkMGµn]?(V|A|Ω|W|Hz|%|°C)\\b|[mkMGµn]?Ω|%)"));
    return QString::fromStdString(text).replace(figure, QStringLiteral("\\1\u00A0"));
}

QString plainTip(const QString& text)
{
    return text.isEmpty() ? text : QStringLiteral("<p>%1</p>").arg(text.toHtmlEscaped());
}

double contrast(const QColor& a, const QColor& b)
{
    const double la = luminance(a), lb = luminance(b);
    return (std::max(la, lb) + 0.05) / (std::min(la, lb) + 0.05);
}

}  // namespace ilvek::app
