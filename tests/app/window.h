// A real window on a folder of its own, driven by keys and mouse.
#pragma once

#include <gtest/gtest.h>

#include <QLabel>
#include <QTemporaryDir>
#include <QTest>
#include <memory>

#include "main_window.h"
#include "screens/prove/prove_screen.h"
#include "widgets/gate_panel.h"
#include "widgets/ledger_view.h"
#include "widgets/loop_strip.h"
#include "widgets/reading_dock.h"

namespace ilvek::app::test {

class Window {
public:
    Window() { open(); }

    void open()
    {
        window_ = std::make_unique<MainWindow>(folder_.path());
        window_->resize(1280, 800);
        window_->show();
        window_->activateWindow();
        QCoreApplication::processEvents();
    }
    void close()
    {
        window_->close();
        window_.reset();
    }
    void keys(const QString& text) { QTest::keyClicks(window_.get(), text); }
    void key(Qt::Key key, Qt::KeyboardModifiers modifiers = Qt::NoModifier)
    {
        QTest::keyClick(window_.get(), key, modifiers);
    }
    void figure(const QString& text)
    {
        keys(text);
        key(Qt::Key_Return);
    }
    template <class T>
    T* find(const char* name) const
    {
        auto* found = window_->findChild<T*>(QLatin1String(name));
        EXPECT_NE(found, nullptr) << name;
        return found;
    }
    QString text(const char* label) const
    {
        const auto* found = find<QLabel>(label);
        return found ? found->text().replace(QChar(0xA0), QLatin1Char(' ')) : QString();
    }
    void pick(const char* terminal)
    {
        auto* ledger = find<LedgerView>("ledger");
        for (int row = 0; row < ledger->model()->rowCount(); ++row) {
            const QModelIndex index = ledger->model()->index(row, 0);
            if (!index.data().toString().startsWith(QLatin1String(terminal) + QLatin1Char(','))) continue;
            ledger->scrollTo(index);
            QTest::mouseClick(ledger->viewport(), Qt::LeftButton, Qt::NoModifier, ledger->visualRect(index).center());
            return;
        }
        ADD_FAILURE() << terminal << " is not in the ledger";
    }
    MainWindow* operator->() const { return window_.get(); }
    MainWindow& operator*() const { return *window_; }
    QString path(const QString& name) const { return folder_.filePath(name); }

private:
    QTemporaryDir folder_;
    std::unique_ptr<MainWindow> window_;
};

}  // namespace ilvek::app::test
