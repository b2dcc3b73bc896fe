// Marks that carry a verdict by shape; colour only supports them.
#pragma once

#include <QColor>
#include <QPainter>
#include <QRectF>

#include "machine/vocabulary.h"
#include "proving/proof.h"
#include "verdict/gate.h"

namespace ilvek::app {

enum class Mark { Hollow, Half, OpenTick, Tick, Triangle, Diamond, Question, Dashes, Dot, Note };

Mark markOf(ProofState state);
Mark markOf(Verdict verdict);
Mark markOf(LineState state);
QColor colourOf(Mark mark);
void drawMark(QPainter& painter, const QRectF& box, Mark mark);

// A wire as a short bar or a round: base colour with its stripe, outlined so that white and black both show.
void drawWireBar(QPainter& painter, const QRectF& box, const Colour& colour);
void drawWireRound(QPainter& painter, const QRectF& box, const Colour& colour);

// A card: panel colour, thin frame.
void drawCard(QPainter& painter, const QRectF& box);

}  // namespace ilvek::app
