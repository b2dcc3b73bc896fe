#include "widgets/staircase_picture.h"

#include <QPainter>

#include "theme.h"

namespace ilvek::app {

StaircasePicture::StaircasePicture(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("staircase"));
    svg_.setAspectRatioMode(Qt::KeepAspectRatio);
    setMinimumHeight(150);
}

void StaircasePicture::show(const std::string& svg, const QString& words)
{
    setVisible(!svg.empty());
    setAccessibleName(words);
    if (!svg.empty()) svg_.load(QByteArray::fromStdString(svg));
    update();
}

// On paper in both themes: it is the picture of the report.
void StaircasePicture::paintEvent(QPaintEvent*)
{
    const Theme::OnPaper paper;
    QPainter p(this);
    p.fillRect(rect(), Theme::current().panel);
    svg_.render(&p, QRectF(rect()));
}

}  // namespace ilvek::app
