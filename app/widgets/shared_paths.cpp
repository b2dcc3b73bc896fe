#include "widgets/shared_paths.h"

#include <QPainter>
#include <algorithm>
#include <tuple>

#include "theme.h"
#include "widgets/shapes.h"

namespace ilvek::app {

namespace {

constexpr int lineHeight = 28, top = 8, legendHeight = 42, markSize = 16;
constexpr std::size_t mostLines = 14, mostUntold = 7, mostStations = 7;
constexpr int mostParts = 4;

Mark markOf(Does does)
{
    switch (does) {
        case Does::Fails:
            return Mark::Triangle;
        case Does::Weak:
            return Mark::Half;
        case Does::ComesAndGoes:
            return Mark::Question;
        case Does::Works:
            return Mark::Tick;
        case Does::NotTried:
            break;
    }
    return Mark::Hollow;
}

bool isFailing(Does does)
{
    return does == Does::Fails || does == Does::Weak || does == Does::ComesAndGoes;
}

bool has(const Branch& branch, int function)
{
    const auto in = [&](const std::vector<int>& list) {
        return std::find(list.begin(), list.end(), function) != list.end();
    };
    return in(branch.functions) || in(branch.maybe);
}

QString few(const std::vector<std::string>& parts)
{
    QStringList words;
    for (std::size_t i = 0; i < parts.size() && i < mostParts; ++i)
        words << QString::fromStdString(parts[i]);
    const auto more = static_cast<int>(parts.size()) - mostParts;
    return words.join(QStringLiteral(", ")) + (more > 0 ? SharedPaths::tr(" and %1 more").arg(more) : QString());
}

}  // namespace

SharedPaths::SharedPaths(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("sharedPaths"));
    setAccessibleName(tr("What the functions share"));
}

void SharedPaths::show(const Job& job, const std::vector<Branch>& branches)
{
    lines_.clear(), stations_.clear();
    const Map& map = job.map;
    const auto told = toldOf(map, job.complaint);
    const OnPaper paper = onPaper(job);
    const auto add = [&](auto fits, std::size_t most) {
        for (std::size_t i = 0; i < told.size() && lines_.size() < most; ++i) {
            if (fits(told[i]))
                lines_.push_back({static_cast<int>(i), QString::fromStdString(map.functions[i].name), told[i]});
        }
    };
    add(isFailing, mostLines);
    for (const int f : paper.fails) {
        const auto code = static_cast<std::size_t>(f) - map.functions.size();
        if (static_cast<std::size_t>(f) < map.functions.size() || lines_.size() >= mostLines) continue;
        lines_.push_back({f, tr("code %1").arg(QString::fromStdString(map.codes[code].code)), Does::Fails});
    }
    add([](Does d) { return d == Does::Works; }, mostLines);
    // Untold ones only fill a small picture up.
    add([](Does d) { return d == Does::NotTried; }, mostUntold);
    const int best = explaining(branches, paper).branch;
    std::vector<int> shown;
    for (int i = 0; i < static_cast<int>(branches.size()); ++i) {
        const Branch& b = branches[static_cast<std::size_t>(i)];
        const auto joined =
            std::count_if(lines_.begin(), lines_.end(), [&](const Line& l) { return has(b, l.function); });
        // Once something was told, what explains none of it is left out.
        const bool idle = !paper.fails.empty() && explainedBy(b, paper).explains == 0;
        if (!b.parts.empty() && (i == best || (joined > 1 && !idle))) shown.push_back(i);
    }
    // Where there are too many, those that explain something; the widest on the left.
    const auto worth = [&](int i) {
        const Explained e = explainedBy(branches[static_cast<std::size_t>(i)], paper);
        return std::tuple(i == best, e.explains - e.against, e.explains);
    };
    std::stable_sort(shown.begin(), shown.end(), [&](int a, int b) { return worth(a) > worth(b); });
    if (shown.size() > mostStations) shown.resize(mostStations);
    std::sort(shown.begin(), shown.end());
    for (const int i : shown) {
        const Branch& b = branches[static_cast<std::size_t>(i)];
        Station station{few(b.parts), {}, i == best, {}};
        for (const Line& l : lines_)
            station.joins.push_back(has(b, l.function));
        if (!paper.fails.empty())
            station.verdict = QString::fromStdString(explainedWords(explainedBy(b, paper), paper.fails.size()));
        stations_.push_back(std::move(station));
    }
    QStringList words;
    for (const Station& s : stations_)
        words << s.parts + QStringLiteral(": ") + s.verdict;
    setAccessibleDescription(words.join(QStringLiteral("; ")));
    setFixedHeight(sizeHint().height());
    update();
}

// The best first.
int SharedPaths::legendRow(std::size_t station) const
{
    const auto best = std::find_if(stations_.begin(), stations_.end(), [](const Station& s) { return s.best; });
    const auto at = static_cast<int>(station), first = static_cast<int>(best - stations_.begin());
    if (best == stations_.end() || at > first) return at;
    return at == first ? 0 : at + 1;
}

int SharedPaths::legendTop() const
{
    return top + lineHeight * static_cast<int>(lines_.size()) + 14;
}

QSize SharedPaths::sizeHint() const
{
    return {560, legendTop() + legendHeight * static_cast<int>(stations_.size()) + 4};
}

void SharedPaths::paintEvent(QPaintEvent*)
{
    const Theme& t = Theme::current();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double names = std::min(width() * 0.5, 300.0), left = 16, right = width() - names;
    const auto y = [](std::size_t line) { return top + lineHeight * (static_cast<double>(line) + 0.5); };
    const auto x = [&](std::size_t station) {
        return left + (right - left) * (static_cast<double>(station) + 1) / (static_cast<double>(stations_.size()) + 1);
    };
    for (std::size_t i = 0; i < lines_.size(); ++i) {
        p.setPen(QPen(isFailing(lines_[i].does) ? t.bad : t.dim, isFailing(lines_[i].does) ? 2.4 : 1.4));
        p.drawLine(QPointF(left, y(i)), QPointF(right, y(i)));
        drawMark(p, QRectF(right + 6, y(i) - markSize / 2.0, markSize, markSize), markOf(lines_[i].does));
        p.setPen(lines_[i].does == Does::NotTried ? t.dim : t.ink);
        p.setFont(face(15, isFailing(lines_[i].does) ? QFont::Bold : QFont::Normal));
        const QRectF box(right + 28, y(i) - lineHeight / 2.0, names - 30, lineHeight);
        p.drawText(box, Qt::AlignVCenter,
                   p.fontMetrics().elidedText(lines_[i].name, Qt::ElideRight, static_cast<int>(box.width())));
    }
    for (std::size_t s = 0; s < stations_.size(); ++s) {
        const Station& station = stations_[s];
        const auto first = std::find(station.joins.begin(), station.joins.end(), true) - station.joins.begin();
        const auto last = station.joins.rend() - std::find(station.joins.rbegin(), station.joins.rend(), true) - 1;
        const QColor colour = station.best ? t.accent : t.ink;
        if (first < static_cast<long>(station.joins.size())) {
            p.setPen(QPen(colour, station.best ? 5 : 2.5, Qt::SolidLine, Qt::RoundCap));
            p.drawLine(QPointF(x(s), y(static_cast<std::size_t>(first))),
                       QPointF(x(s), y(static_cast<std::size_t>(last))));
        }
        for (std::size_t i = 0; i < station.joins.size(); ++i) {
            if (!station.joins[i]) continue;
            const double r = station.best ? 10 : 8;
            p.setPen(QPen(colour, 2));
            p.setBrush(station.best ? t.accent : t.panel);
            p.drawEllipse(QPointF(x(s), y(i)), r, r);
            p.setPen(station.best ? t.onAccent : t.ink);
            p.setFont(face(12, QFont::Bold));
            p.drawText(QRectF(x(s) - r, y(i) - r, 2 * r, 2 * r), Qt::AlignCenter, QChar('A' + static_cast<int>(s)));
            p.setBrush(Qt::NoBrush);
        }
        const QRectF box(left, legendTop() + legendHeight * legendRow(s), width() - left - 4, legendHeight);
        p.setPen(station.best ? t.accent : t.ink);
        p.setFont(face(15, station.best ? QFont::Bold : QFont::Normal));
        const QString line = QStringLiteral("%1  %2").arg(QChar('A' + static_cast<int>(s))).arg(station.parts);
        p.drawText(box, Qt::AlignTop, p.fontMetrics().elidedText(line, Qt::ElideRight, static_cast<int>(box.width())));
        p.setFont(face(14));
        p.setPen(station.best ? t.ink : t.dim);
        p.drawText(box.adjusted(20, 20, 0, 0), Qt::AlignTop, station.verdict);
    }
}

}  // namespace ilvek::app
