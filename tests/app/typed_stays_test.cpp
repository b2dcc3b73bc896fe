// What is typed stays until it is taken, and is taken when it is left; nothing of one job gets into another.
#include <gmock/gmock.h>

#include <QClipboard>
#include <QComboBox>
#include <QDialog>
#include <QDialogButtonBox>
#include <QLineEdit>
#include <QListWidget>
#include <QPushButton>
#include <QTableWidget>
#include <QTimer>

#include "app/window.h"
#include "job/hand_over.h"
#include "screens/sheet/sheet_dialog.h"
#include "widgets/text_area.h"
#include "widgets/text_dialog.h"

namespace ilvek::app {
namespace {

using test::Window;

constexpr auto pt9 = ILVEK_SOURCE_DIR "/data/maps/pt-9.json";

std::size_t entries(const Window& window)
{
    return window->liveJob()->journal().events().size();
}

class JobTyping : public testing::Test {
protected:
    void SetUp() override { ASSERT_TRUE(window->openMap(QString::fromLatin1(pt9))); }
    const Job& job() const { return window->liveJob()->job(); }
    TextArea* area(const char* name) { return window.find<TextArea>(name); }
    QLineEdit* line(const char* name) { return window.find<QLineEdit>(name); }
    QTableWidget* codes() { return window.find<QTableWidget>("codes"); }
    void type(QWidget* field, const char* words)
    {
        field->setFocus();
        QTest::keyClicks(field, QString::fromLatin1(words));
    }
    Window window;
};

TEST_F(JobTyping, ANoteAStateChangeOrAReadingErasesNothing)
{
    const char* areas[] = {"complaintText", "complaintFails", "complaintWorks", "complaintReplaced"};
    for (const char* name : areas) {
        type(area(name), "halfway");
        ASSERT_TRUE(window->liveJob()->enter(Note{"something else"}));
        ASSERT_TRUE(window->liveJob()->enter(StateChange{"key-on"}));
        EXPECT_EQ(area(name)->toPlainText(), QStringLiteral("halfway")) << name;
    }
    type(line("repair"), "new terminal");
    area("complaintText")->setFocus();
    ASSERT_TRUE(window->liveJob()->enter(StateChange{"key-off"}));
    EXPECT_EQ(line("repair")->text(), QStringLiteral("new terminal"));
    // Also where the typing is elsewhere by now and nobody has taken it yet.
    area("complaintText")->setPlainText(QStringLiteral("put in by a paste"));
    window->setFocus();
    ASSERT_TRUE(window->liveJob()->enter(Note{"again"}));
    EXPECT_EQ(area("complaintText")->toPlainText(), QStringLiteral("put in by a paste"));
}

TEST_F(JobTyping, LeavingAFieldWithTabTakesItOver)
{
    type(area("complaintText"), "does not lift");
    QTest::keyClick(area("complaintText"), Qt::Key_Tab);
    EXPECT_EQ(job().complaint.text, "does not lift");
    type(area("complaintReplaced"), "joystick");
    QTest::keyClick(area("complaintReplaced"), Qt::Key_Tab);
    EXPECT_EQ(job().complaint.replaced, std::vector<std::string>{"joystick"});
    type(line("note"), "seen water in X9");
    QTest::keyClick(line("note"), Qt::Key_Tab);
    ASSERT_EQ(job().notes.size(), 1U);
    EXPECT_TRUE(line("note")->text().isEmpty());
}

TEST_F(JobTyping, VisitingTheScreenWritesNothing)
{
    ASSERT_TRUE(window->liveJob()->enter(Complaint{" spaces around \n", "", {"  a "}, {}}));
    const auto before = entries(window);
    for (int n = 0; n < 3; ++n) {
        window->show(MainWindow::Screen::Prove);
        window->show(MainWindow::Screen::Job);
        for (const char* name : {"complaintText", "complaintWorks"}) {
            area(name)->setFocus();
            QTest::keyClick(area(name), Qt::Key_Tab);
        }
    }
    window->show(MainWindow::Screen::Prove);
    EXPECT_EQ(entries(window), before);
}

TEST_F(JobTyping, AnUndoneEntryOfCodesDoesNotComeBack)
{
    codes()->setItem(0, 0, new QTableWidgetItem(QStringLiteral("41-3")));
    codes()->setItem(1, 0, new QTableWidgetItem(QStringLiteral("41-4")));
    ASSERT_EQ(job().codes.size(), 2U);
    while (!job().codes.empty())
        ASSERT_TRUE(window->liveJob()->undo());
    const auto before = entries(window);
    window->show(MainWindow::Screen::Prove);
    window->show(MainWindow::Screen::Job);
    window->show(MainWindow::Screen::Prove);
    EXPECT_TRUE(job().codes.empty());
    EXPECT_EQ(entries(window), before);
}

TEST_F(JobTyping, ARowWithoutItsCodeWaitsAndBringsNothingBack)
{
    codes()->setItem(0, 0, new QTableWidgetItem(QStringLiteral("41-3")));
    codes()->setItem(1, 1, new QTableWidgetItem(QStringLiteral("its code is not known yet")));
    ASSERT_TRUE(window->liveJob()->undo());
    window->show(MainWindow::Screen::Prove);
    EXPECT_TRUE(job().codes.empty()) << "what was withdrawn stays so";
    window->show(MainWindow::Screen::Job);
    EXPECT_EQ(codes()->item(1, 1)->text(), QStringLiteral("its code is not known yet"));
    codes()->setItem(1, 0, new QTableWidgetItem(QStringLiteral("41-4")));
    EXPECT_EQ(job().codes.back().text, "its code is not known yet");
}

TEST_F(JobTyping, NothingOfOneJobGetsIntoAnother)
{
    for (int row = 0; row < 4; ++row)
        codes()->setItem(row, 0, new QTableWidgetItem(QStringLiteral("A-%1").arg(row)));
    type(area("complaintText"), "of the first job");
    type(line("note"), "half a note");
    type(line("repair"), "half a repair");
    const auto first = window->liveJob()->journal().path();
    ASSERT_TRUE(window->openMap(QString::fromLatin1(pt9)));
    EXPECT_EQ(entries(window), 0U);
    EXPECT_TRUE(area("complaintText")->toPlainText().isEmpty());
    EXPECT_TRUE(line("note")->text().isEmpty());
    EXPECT_TRUE(line("repair")->text().isEmpty());
    for (int row = 0; row < codes()->rowCount(); ++row)
        EXPECT_TRUE(!codes()->item(row, 0) || codes()->item(row, 0)->text().isEmpty()) << row;
    codes()->setItem(0, 0, new QTableWidgetItem(QStringLiteral("B-1")));
    ASSERT_EQ(job().codes.size(), 1U);
    EXPECT_EQ(job().codes[0].code, "B-1");
    // And the first job has all that was typed into it.
    const auto journal = Journal::open(first, Access::ReadOnly);
    ASSERT_TRUE(journal);
    const auto was = foldJob(journal->content());
    ASSERT_TRUE(was);
    EXPECT_EQ(was->complaint.text, "of the first job");
    EXPECT_EQ(was->codes.size(), 4U);
    ASSERT_EQ(was->notes.size(), 2U);
    EXPECT_EQ(was->notes[0].text, "half a note");
    EXPECT_THAT(was->notes[1].text, testing::HasSubstr("half a repair"));
}

TEST_F(JobTyping, AMeterThatCannotBeIsSaidAtOnceAndStaysAsTyped)
{
    auto* input = line("meterInput");
    input->setFocus();
    input->setText(QStringLiteral("3 V"));
    QTest::keyClick(input, Qt::Key_Return);
    EXPECT_THAT(window.text("message").toStdString(), testing::HasSubstr("Meter input"));
    EXPECT_EQ(input->text(), QStringLiteral("3 V"));
    EXPECT_EQ(entries(window), 0U);
    for (const char* beyond : {"1e15 ohm", "0.001 ohm"}) {
        input->setText(QString::fromLatin1(beyond));
        QTest::keyClick(input, Qt::Key_Return);
        EXPECT_EQ(entries(window), 0U) << beyond << " is beyond what the reader takes";
        EXPECT_EQ(input->text(), QString::fromLatin1(beyond));
    }
    input->setText(QStringLiteral("1 parsec"));
    QTest::keyClick(input, Qt::Key_Return);
    EXPECT_EQ(entries(window), 0U) << "no unit that is known";
    input->setText(QStringLiteral("1M"));
    QTest::keyClick(input, Qt::Key_Return);
    EXPECT_EQ(job().evidence.instrument.inputResistance_ohm, 1e6);
}

TEST_F(JobTyping, AWhollyEmptyClipboardCanBePasted)
{
    QGuiApplication::clipboard()->clear();
    for (const char* name : {"complaintText", "complaintWorks"})
        area(name)->paste();
    SUCCEED() << "no crash";
}

void inDialog(const char* name, const std::function<void(QDialog*)>& work)
{
    QTimer::singleShot(0, [name, work] {
        auto* dialog = qobject_cast<QDialog*>(QApplication::activeModalWidget());
        ASSERT_NE(dialog, nullptr);
        EXPECT_EQ(dialog->objectName(), QLatin1String(name));
        dialog->activateWindow();
        QCoreApplication::processEvents();
        work(dialog);
        if (dialog->isVisible()) dialog->reject();
    });
}

TEST_F(JobTyping, ADialogOfAGateLineIsLeftByKeyboard)
{
    for (const bool byTab : {true, false}) {
        inDialog("textDialog", [&](QDialog* dialog) {
            auto* text = dialog->findChild<TextArea*>();
            text->clear();
            QTest::keyClicks(text, QStringLiteral("cleared, none came back"));
            if (byTab) {
                QTest::keyClick(text, Qt::Key_Tab);
                auto* ok = qobject_cast<QPushButton*>(QApplication::focusWidget());
                ASSERT_NE(ok, nullptr) << "Tab leaves the text";
                QTest::keyClick(ok, Qt::Key_Space);
            } else {
                QTest::keyClick(text, Qt::Key_Return, Qt::ControlModifier);
            }
            EXPECT_EQ(dialog->result(), QDialog::Accepted);
        });
        const auto before = entries(window);
        window->show(MainWindow::Screen::Prove);
        window.find<QPushButton>("gate-codes")->click();
        EXPECT_EQ(entries(window), before + 1);
    }
}

TEST_F(JobTyping, WhatWasTypedInADialogStaysWhereItCannotBeTaken)
{
    std::filesystem::remove(window->liveJob()->journal().path());
    window->show(MainWindow::Screen::Prove);
    inDialog("textDialog", [&](QDialog* dialog) {
        auto* text = dialog->findChild<TextArea*>();
        text->setPlainText(QStringLiteral("long words"));
        dialog->accept();
        EXPECT_TRUE(dialog->isVisible());
        EXPECT_EQ(text->toPlainText(), QStringLiteral("long words"));
        EXPECT_THAT(dialog->findChild<QLabel*>(QStringLiteral("refusal"))->text().toStdString(),
                    testing::HasSubstr("deleted"));
    });
    window.find<QPushButton>("gate-codes")->click();
}

// In a table that is typed in Tab goes from cell to cell, and Ctrl+Tab leaves it; in the others Tab leaves.
TEST(Tables, TabLeavesThoseThatAreOnlyRead)
{
    SheetDialog dialog;
    ASSERT_TRUE(dialog.load(QStringLiteral(ILVEK_SOURCE_DIR "/data/sheets/hauler-24v.csv")));
    for (const auto* table : dialog.findChildren<QTableWidget*>())
        EXPECT_EQ(table->tabKeyNavigation(), table->editTriggers() != QAbstractItemView::NoEditTriggers);
}

}  // namespace
}  // namespace ilvek::app
