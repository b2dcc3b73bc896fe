// A connector's cavities with their wire colours, from the wire side or mirrored, and how to find one in words.
#pragma once

#include <QWidget>

#include "machine/connector_face.h"
#include "models/live_job.h"

namespace ilvek::app {

class ConnectorFace : public QWidget {
    Q_OBJECT
public:
    explicit ConnectorFace(QWidget* parent = nullptr);
    void show(const LiveJob& liveJob);
    void mirror();
    QString words() const { return words_; }
    int heightForWidth(int width) const override;
    bool hasHeightForWidth() const override { return true; }
    QSize sizeHint() const override;

signals:
    void chosen(int terminal);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    struct Grid;
    Grid grid(int width) const;
    void describe();

    const LiveJob* liveJob_ = nullptr;
    int connector_ = -1;
    int terminal_ = -1;
    Seen seen_ = Seen::WireSide;
    QString words_;
};

}  // namespace ilvek::app
