// The jobs of a folder for the start screen: what the logbook has at once, brought up to date behind the window.
#pragma once

#include <QObject>
#include <QThread>

#include <atomic>
#include <optional>

#include "logbook/logbook.h"

namespace ilvek::app {

class JobList : public QObject {
    Q_OBJECT
public:
    explicit JobList(const QString& folder, QObject* parent);
    ~JobList() override;

    // Looks at the folder anew; changed() when the list is another.
    void refresh();
    std::vector<LoggedJob> find(const QString& words) const;

signals:
    void changed();

private:
    QString folder_, index_;
    std::optional<Logbook> book_;
    QThread* reading_ = nullptr;
    bool again_ = false;
    std::atomic<bool> stop_ = false;
};

}  // namespace ilvek::app
