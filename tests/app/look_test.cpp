// A look at a terminal in the real window: asked for by key, answered by number, kept, and taken back.
#include <gtest/gtest.h>

#include "app/window.h"

namespace ilvek::app {
namespace {

TEST(LookInTheWindow, IsAnsweredByNumberAndKept)
{
    test::Window window;
    ASSERT_TRUE(window->openDemo());
    window.pick("J2-1");
    window.key(Qt::Key_V);
    ASSERT_TRUE(window->liveJob()->step());
    EXPECT_EQ(window->liveJob()->step()->test, TestKind::Look);
    EXPECT_TRUE(window.text("stepExpectation").startsWith(QStringLiteral("1 as drawn")));
    const ProofState before = window->liveJob()->proof(window->liveJob()->shownTerminal()).state;
    const std::size_t entries = window->liveJob()->journal().events().size();
    window.figure(QStringLiteral("7"));
    EXPECT_EQ(window->liveJob()->journal().events().size(), entries) << "no look finds a seventh thing";
    window.key(Qt::Key_Escape);
    window.figure(QStringLiteral("2"));
    const auto last = window->liveJob()->lastReading();
    ASSERT_TRUE(last);
    EXPECT_EQ(last->found, Found::Damaged);
    EXPECT_EQ(last->terminal, "J2-1");
    EXPECT_EQ(window->liveJob()->proof(window->liveJob()->map().terminalIndex("J2-1")).state, before);
    EXPECT_TRUE(window.find<QWidget>("readingDock")->accessibleDescription().contains(QStringLiteral("Damage seen")));
    window.key(Qt::Key_U);
    EXPECT_NE(window->liveJob()->lastReading()->found, Found::Damaged);
}

}  // namespace
}  // namespace ilvek::app
