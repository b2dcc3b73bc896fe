#include "widgets/shapes.h"

#include <QPainterPath>

#include "theme.h"

namespace ilvek::app {

namespace {

QColor wireColour(const std::string& name)
{
    const auto rgb = colourRgb(name);
    return rgb ? QColor::fromRgb(*rgb) : Theme::current().panel;
}

void exclamation(QPainter& painter, const QRectF& box, const QColor& colour)
{
    const double w = std::max(1.6, box.width() * 0.12);
    painter.setPen(QPen(colour, w, Qt::SolidLine, Qt::RoundCap));
    const double x = box.center().x();
    painter.drawLine(QPointF(x, box.top() + box.height() * 0.36), QPointF(x, box.top() + box.height() * 0.62));
    painter.drawPoint(QPointF(x, box.top() + box.height() * 0.80));
}

}  // namespace

Mark markOf(ProofState state)
{
    switch (state) {
        case ProofState::Untouched:
            return Mark::Hollow;
        case ProofState::OpenOnly:
        case ProofState::ReadOnly:
            return Mark::Half;
        case ProofState::PartlyLoaded:
            return Mark::OpenTick;
        case ProofState::ProvenLoaded:
            return Mark::Tick;
        case ProofState::OutOfLimits:
            return Mark::Diamond;
        case ProofState::FailedLoaded:
            return Mark::Triangle;
        case ProofState::Assumed:
            return Mark::Question;
        case ProofState::Stale:
            return Mark::Dashes;
        case ProofState::EmptyCavity:
            return Mark::Dot;
    }
    return Mark::Hollow;
}

Mark markOf(Verdict verdict)
{
    switch (verdict) {
        case Verdict::Good:
            return Mark::Tick;
        case Verdict::OpenOnly:
            return Mark::Half;
        case Verdict::Low:
        case Verdict::High:
            return Mark::Diamond;
        case Verdict::FailsLoaded:
            return Mark::Triangle;
        case Verdict::NotDecided:
        case Verdict::Conflict:
            return Mark::Question;
        case Verdict::NoEvidence:
            return Mark::Dashes;
        case Verdict::Noted:
            return Mark::Note;
    }
    return Mark::Hollow;
}

Mark markOf(LineState state)
{
    return state == LineState::Earned ? Mark::Tick : state == LineState::Failed ? Mark::Triangle : Mark::Hollow;
}

QColor colourOf(Mark mark)
{
    const Theme& t = Theme::current();
    switch (mark) {
        case Mark::Tick:
            return t.good;
        case Mark::Triangle:
        case Mark::Diamond:
            return t.bad;
        case Mark::Question:
        case Mark::Dashes:
            return t.warn;
        case Mark::Half:
        case Mark::OpenTick:
        case Mark::Note:
            return t.ink;
        case Mark::Hollow:
        case Mark::Dot:
            return t.dim;
    }
    return t.ink;
}

void drawMark(QPainter& painter, const QRectF& box, Mark mark)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const QColor colour = colourOf(mark);
    const Theme& t = Theme::current();
    const double w = std::max(1.5, box.width() * 0.09);
    const QRectF r = box.adjusted(w / 2, w / 2, -w / 2, -w / 2);
    painter.setPen(QPen(colour, w));
    painter.setBrush(Qt::NoBrush);
    switch (mark) {
        case Mark::Hollow:
            painter.drawRect(r);
            break;
        case Mark::Half:
            painter.drawRect(r);
            painter.fillRect(QRectF(r.left(), r.top(), r.width() / 2, r.height()), colour);
            break;
        case Mark::OpenTick:
        case Mark::Tick: {
            const bool filled = mark == Mark::Tick;
            if (filled) painter.setBrush(colour);
            painter.drawRect(r);
            painter.setPen(QPen(filled ? t.panel : colour, w * 1.5, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            const QPointF tick[] = {{r.left() + r.width() * 0.2, r.top() + r.height() * 0.52},
                                    {r.left() + r.width() * 0.42, r.top() + r.height() * 0.76},
                                    {r.left() + r.width() * 0.82, r.top() + r.height() * 0.26}};
            painter.drawPolyline(tick, 3);
            break;
        }
        case Mark::Triangle: {
            painter.setBrush(colour);
            painter.setPen(QPen(colour, w, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            painter.drawPolygon(QPolygonF{{r.center().x(), r.top()}, r.bottomRight(), r.bottomLeft()});
            exclamation(painter, box, t.panel);
            break;
        }
        case Mark::Diamond:
            painter.setPen(QPen(colour, w * 1.2, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
            painter.drawPolygon(QPolygonF{{r.center().x(), r.top()},
                                          {r.right(), r.center().y()},
                                          {r.center().x(), r.bottom()},
                                          {r.left(), r.center().y()}});
            exclamation(painter, box.adjusted(0, -box.height() * 0.08, 0, -box.height() * 0.08), colour);
            break;
        case Mark::Question:
            painter.setPen(QPen(colour, w));
            painter.drawRect(r);
            painter.setFont(face(static_cast<int>(box.height() * 0.78), QFont::Bold));
            painter.drawText(box, Qt::AlignCenter, QStringLiteral("?"));
            break;
        case Mark::Dashes:
            painter.setPen(QPen(colour, w, Qt::DashLine));
            painter.drawRect(r);
            break;
        case Mark::Dot:
            painter.setPen(QPen(colour, w, Qt::DotLine));
            painter.drawEllipse(r);
            break;
        case Mark::Note:
            painter.setPen(QPen(colour, w));
            painter.drawEllipse(r);
            painter.setBrush(colour);
            painter.drawEllipse(r.center(), r.width() * 0.18, r.height() * 0.18);
            break;
    }
    painter.restore();
}

void drawWireBar(QPainter& painter, const QRectF& box, const Colour& colour)
{
    if (colour.base.empty()) return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath outline;
    outline.addRoundedRect(box, box.height() / 2.5, box.height() / 2.5);
    painter.setClipPath(outline);
    painter.fillRect(box, wireColour(colour.base));
    if (!colour.stripe.empty()) {
        const double h = box.height() * 0.36;
        painter.fillRect(QRectF(box.left(), box.center().y() - h / 2, box.width(), h), wireColour(colour.stripe));
    }
    painter.setClipping(false);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(Theme::current().dim, 1));
    painter.drawPath(outline);
    painter.restore();
}

void drawWireRound(QPainter& painter, const QRectF& box, const Colour& colour)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath outline;
    outline.addEllipse(box);
    painter.setClipPath(outline);
    painter.fillRect(box, colour.base.empty() ? Theme::current().panel : wireColour(colour.base));
    if (!colour.stripe.empty()) {
        const double h = box.height() * 0.3;
        painter.fillRect(QRectF(box.left(), box.center().y() - h / 2, box.width(), h), wireColour(colour.stripe));
    }
    painter.setClipping(false);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(Theme::current().dim, 1.2));
    painter.drawPath(outline);
    painter.restore();
}

void drawCard(QPainter& painter, const QRectF& box)
{
    const Theme& t = Theme::current();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(t.line, 1));
    painter.setBrush(t.panel);
    painter.drawRoundedRect(box.adjusted(0.5, 0.5, -0.5, -0.5), 5, 5);
}

}  // namespace ilvek::app
