#include "screens/start/shop_dialog.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPointer>
#include <QPushButton>
#include <QVBoxLayout>

#include "theme.h"
#include "widgets/labels.h"

namespace ilvek::app {

ShopDialog::ShopDialog(ShopLink* link, QWidget* parent) : QDialog(parent), link_(link)
{
    setWindowTitle(tr("The shop's jobs"));
    resize(720, 520);
    auto* column = new QVBoxLayout(this);
    QLabel* hint = wrappedLabel("shopHint", face(15), this);
    hint->setText(
        tr("A PostgreSQL server that the benches share. Without it everything works and is kept here. A password "
           "belongs into the server's own pass file, not into this line."));
    column->addWidget(hint);
    auto* form = new QFormLayout;
    server_ = new QLineEdit(link_->place().server, this);
    server_->setObjectName(QStringLiteral("shopServer"));
    server_->setPlaceholderText(QStringLiteral("host=shop dbname=ilvek sslmode=verify-full"));
    bench_ = new QLineEdit(link_->place().bench, this);
    bench_->setObjectName(QStringLiteral("shopBench"));
    bench_->setPlaceholderText(tr("bench 2"));
    form->addRow(tr("&Server"), server_);
    form->addRow(tr("This &bench"), bench_);
    column->addLayout(form);
    auto* row = new QHBoxLayout;
    auto* connecting = new QPushButton(tr("&Use it and list its jobs"), this);
    connecting->setObjectName(QStringLiteral("shopConnect"));
    connect(connecting, &QPushButton::clicked, this, &ShopDialog::connectTo);
    auto* fetching = new QPushButton(tr("&Fetch the chosen job"), this);
    fetching->setObjectName(QStringLiteral("shopFetch"));
    fetching->setToolTip(tr("It is this bench's from then on"));
    connect(fetching, &QPushButton::clicked, this, &ShopDialog::fetch);
    connecting->setDefault(true);
    row->addWidget(connecting);
    row->addWidget(fetching);
    row->addStretch(1);
    column->addLayout(row);
    said_ = wrappedLabel("shopSaid", face(15, QFont::Bold), this);
    column->addWidget(said_);
    jobs_ = new QListWidget(this);
    jobs_->setObjectName(QStringLiteral("shopJobs"));
    jobs_->setAccessibleName(tr("The shop's jobs"));
    jobs_->setFont(face(15));
    connect(jobs_, &QListWidget::itemActivated, this, &ShopDialog::fetch);
    column->addWidget(jobs_, 1);
    said_->setText(link_->state());
    if (link_->place().isSet()) list();
}

void ShopDialog::connectTo()
{
    if (const auto set = link_->setPlace({server_->text().trimmed(), bench_->text().trimmed()}); !set)
        return said_->setText(QString::fromStdString(set.error().message()));
    if (!link_->place().isSet()) return said_->setText(tr("No server is used."));
    list();
}

void ShopDialog::list()
{
    said_->setText(tr("Asking the server …"));
    link_->list([self = QPointer(this)](Result<std::vector<SharedJob>> jobs) {
        if (!self) return;
        self->jobs_->clear();
        if (!jobs) return self->said_->setText(QString::fromStdString(jobs.error().message()));
        self->said_->setText(self->link_->state());
        for (const SharedJob& j : *jobs) {
            auto* item = new QListWidgetItem(
                tr("%1 – %2\n%3 · %4 · %5")
                    .arg(j.title.empty() ? tr("without a title") : QString::fromStdString(j.title),
                         QString::fromStdString(j.state), QString::fromStdString(j.machine),
                         tr("%n entries", nullptr, static_cast<int>(j.entries)),
                         j.holder.empty() ? tr("free") : tr("at %1").arg(QString::fromStdString(j.holder))));
            item->setData(Qt::UserRole, QString::fromStdString(j.key));
            item->setData(Qt::UserRole + 1, QString::fromStdString(j.title));
            self->jobs_->addItem(item);
        }
    });
}

void ShopDialog::fetch()
{
    const QListWidgetItem* item = jobs_->currentItem();
    if (!item) return said_->setText(tr("Choose a job."));
    const QString title = item->data(Qt::UserRole + 1).toString();
    said_->setText(tr("Fetching …"));
    link_->fetch(item->data(Qt::UserRole).toString(), [self = QPointer(this), title](Result<JobContent> content) {
        if (!self) return;
        if (!content) return self->said_->setText(QString::fromStdString(content.error().message()));
        emit self->fetched(*content, title);
        self->accept();
    });
}

}  // namespace ilvek::app
