#include "models/shop_link.h"

#include <QFile>
#include <QJsonDocument>
#include <QJsonObject>
#include <QTimer>
#include <memory>

#include "base/file.h"
#include "models/give_way.h"
#include "shop/shared_files.h"

namespace ilvek::app {

namespace {

constexpr int soon_ms = 1500, again_ms = 30'000;

}  // namespace

template <class Answer, class Work>
void ShopLink::run(Work work, std::function<void(Result<Answer>)> done)
{
    const auto answer = std::make_shared<Result<Answer>>(Answer{});
    QThread* thread = QThread::create([answer, work, place = place_] {
        auto shop = Shop::connect(place.server.toStdString(), place.bench.toStdString());
        *answer = shop ? work(*shop) : Result<Answer>(tl::unexpected(shop.error()));
    });
    asking_ << thread;
    connect(thread, &QThread::finished, this, [this, thread, answer, done = std::move(done)] {
        asking_.removeOne(thread);
        thread->deleteLater();
        done(std::move(*answer));
    });
    thread->start();
}

ShopLink::ShopLink(QString file, QObject* parent) : QObject(parent), file_(std::move(file)), soon_(new QTimer(this))
{
    soon_->setSingleShot(true);
    connect(soon_, &QTimer::timeout, this, &ShopLink::begin);
    QFile kept(file_);
    if (!kept.open(QIODevice::ReadOnly)) return;
    const QJsonObject doc = QJsonDocument::fromJson(kept.readAll()).object();
    place_ = {doc[QStringLiteral("server")].toString(), doc[QStringLiteral("bench")].toString()};
    if (place_.isSet()) state_ = tr("Shop: nothing pushed yet.");
}

ShopLink::~ShopLink()
{
    for (QThread* thread : asking_ << pushing_) {
        if (thread) thread->wait();
    }
}

Result<void> ShopLink::setPlace(const ShopPlace& place)
{
    if (auto allowed = checkServerLine(place.server.toStdString()); !allowed) return allowed;
    const QJsonObject doc{{QStringLiteral("server"), place.server}, {QStringLiteral("bench"), place.bench}};
    if (auto done = writeFile(file_.toStdString(), QJsonDocument(doc).toJson().toStdString()); !done) return done;
    place_ = place;
    refused_ = false;
    state_ = place_.isSet() ? tr("Shop: nothing pushed yet.") : QString();
    emit changed();
    if (wanted_) soon_->start(0);
    if (!machines_.isEmpty()) shareFolders(machines_, knownGood_);
    return {};
}

void ShopLink::shareFolders(const QString& machines, const QString& knownGood)
{
    machines_ = machines, knownGood_ = knownGood;
    if (!place_.isSet()) return;
    run<int>([machines = machines.toStdString(),
              knownGood = knownGood.toStdString()](Shop& shop) { return shareFiles(shop, machines, knownGood); },
             [this](Result<int> came) {
                 if (came && *came > 0) emit filesCame(*came);
             });
}

void ShopLink::want(const JobContent& content, const QString& title, const QString& state)
{
    if (!place_.isSet()) return;
    const std::string was = wanted_ ? jobKey(wanted_->content) : "";
    wanted_ = Wanted{content, title, state};
    if (was != jobKey(content)) refused_ = false;
    if (!refused_ && !pushing_) soon_->start(soon_ms);
}

void ShopLink::begin()
{
    if (pushing_ || !wanted_ || !place_.isSet()) return;
    struct Answer {
        Result<std::int64_t> pushed = 0;
        bool reached = false;
    };
    const auto answer = std::make_shared<Answer>();
    const auto wanted = std::make_shared<const Wanted>(*wanted_);
    pushing_ = QThread::create([answer, wanted, place = place_] {
        giveWay();
        auto shop = Shop::connect(place.server.toStdString(), place.bench.toStdString());
        answer->reached = shop.has_value();
        answer->pushed = shop ? shop->push(wanted->content, wanted->title.toStdString(), wanted->state.toStdString())
                              : Result<std::int64_t>(tl::unexpected(shop.error()));
    });
    connect(pushing_, &QThread::finished, this, [this, answer, wanted] {
        pushing_->deleteLater();
        pushing_ = nullptr;
        const bool newer = wanted_ && wanted_->content.events.size() != wanted->content.events.size();
        if (answer->pushed) {
            refused_ = false;
            state_ = tr("Shop: all %n entries are there.", nullptr, static_cast<int>(wanted->content.events.size()));
            if (newer) soon_->start(soon_ms);
        } else {
            refused_ = answer->reached;
            const QString why = QString::fromStdString(answer->pushed.error().message());
            state_ = refused_ ? tr("Shop: refused. %1").arg(why)
                              : tr("Shop: not reachable, all is kept here and pushed later. %1").arg(why);
            if (!refused_) soon_->start(again_ms);
        }
        emit changed();
    });
    pushing_->start();
}

void ShopLink::list(std::function<void(Result<std::vector<SharedJob>>)> done)
{
    run<std::vector<SharedJob>>([](Shop& shop) { return shop.jobs(); }, std::move(done));
}

void ShopLink::fetch(const QString& key, std::function<void(Result<JobContent>)> done)
{
    run<JobContent>([key = key.toStdString()](Shop& shop) { return shop.fetch(key, true); }, std::move(done));
}

}  // namespace ilvek::app
