// Colours, sizes and fonts: a calm paper-like light theme and a night theme.
#pragma once

#include <QColor>
#include <QFont>
#include <QPalette>
#include <QProxyStyle>
#include <QString>
#include <string>

namespace ilvek::app {

// Every text colour stands at 7:1 or more against `panel` and `paper`.
struct Theme {
    QColor paper, panel, bar, ink, dim, line, accent, onAccent, good, warn, bad, band, wire;
    bool night = false;

    static const Theme& light();
    static const Theme& nightly();
    // The theme in use; changed with use().
    static const Theme& current();
    static void use(bool night);

    // The light theme on this thread for as long as it lives: paper is white.
    class OnPaper {
    public:
        OnPaper();
        ~OnPaper();
        OnPaper(const OnPaper&) = delete;
        OnPaper& operator=(const OnPaper&) = delete;
    };
};

// The embedded face at a size in px.
QFont face(int size_px, int weight = QFont::Normal);
void loadFonts();
QPalette paletteOf(const Theme& theme);
// Fusion with frames and a focus ring that are visible in both themes.
QStyle* makeStyle();

// A text of the core for a label: no figure is torn from its unit at the end of a line.
QString unbroken(const std::string& text);

// A tool tip that shows the text as it is, whatever it looks like.
QString plainTip(const QString& text);

// Contrast of two colours. SOURCE: WCAG 2.1, relative luminance.
double contrast(const QColor& a, const QColor& b);

}  // namespace ilvek::app
