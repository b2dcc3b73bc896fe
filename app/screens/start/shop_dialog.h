// The shop's server: where it is, what this bench is called, and the jobs that are there.
#pragma once

#include <QDialog>

#include "models/shop_link.h"

class QLabel;
class QLineEdit;
class QListWidget;

namespace ilvek::app {

class ShopDialog : public QDialog {
    Q_OBJECT
public:
    ShopDialog(ShopLink* link, QWidget* parent);

signals:
    void fetched(const ilvek::JobContent& content, const QString& title);

private:
    void connectTo();
    void list();
    void fetch();

    ShopLink* link_;
    QLineEdit *server_, *bench_;
    QLabel* said_;
    QListWidget* jobs_;
};

}  // namespace ilvek::app
