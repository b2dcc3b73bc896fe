// The shop's server behind the window: entries of the open job are pushed when it is there, and wait when it is not.
#pragma once

#include <QObject>
#include <QThread>

#include <functional>
#include <optional>

#include "job/job_content.h"
#include "shop/shop.h"

class QTimer;

namespace ilvek::app {

// How the server is reached and what this bench is called; no password.
struct ShopPlace {
    QString server, bench;
    bool isSet() const { return !server.isEmpty() && !bench.isEmpty(); }
};

class ShopLink : public QObject {
    Q_OBJECT
public:
    // `file` keeps the place.
    explicit ShopLink(QString file, QObject* parent);
    ~ShopLink() override;

    const ShopPlace& place() const { return place_; }
    // ERRORS: a password in the line; the file cannot be written.
    Result<void> setPlace(const ShopPlace& place);

    // The job as it stands; pushed soon, and again until it is there. A job that was refused is not tried again until
    // the place is set anew.
    void want(const JobContent& content, const QString& title, const QString& state);
    // What stands between this bench and the server, in words; empty: no server is set.
    const QString& state() const { return state_; }
    bool isRefused() const { return refused_; }

    // Machines and known-good figures of this bench and of the shop are brought together behind the window, now and
    // with each push.
    void shareFolders(const QString& machines, const QString& knownGood);

    // Runs something with a connection behind the window and hands back what it gave, or why not.
    void list(std::function<void(Result<std::vector<SharedJob>>)> done);
    void fetch(const QString& key, std::function<void(Result<JobContent>)> done);

signals:
    void changed();
    void filesCame(int count);

private:
    struct Wanted {
        JobContent content;
        QString title, state;
    };
    void begin();
    template <class Answer, class Work>
    void run(Work work, std::function<void(Result<Answer>)> done);

    QString file_, state_, machines_, knownGood_;
    ShopPlace place_;
    std::optional<Wanted> wanted_;
    QThread* pushing_ = nullptr;
    QList<QThread*> asking_;
    QTimer* soon_;
    bool refused_ = false;
};

}  // namespace ilvek::app
