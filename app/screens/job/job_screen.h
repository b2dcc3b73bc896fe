// The Job screen: machine, complaint, what still works, codes, notes, repairs, the way of working, and the journal.
#pragma once

#include <QHash>

#include "models/live_job.h"
#include "screens/window_screen.h"

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QTableWidget;

namespace ilvek::app {

class TextArea;

class JobScreen : public WindowScreen {
    Q_OBJECT
public:
    explicit JobScreen(QWidget* parent = nullptr);
    void setLiveJob(LiveJob* liveJob) override;
    // Enters what was changed and not yet taken; called whenever a field or the screen is left.
    void takeOver() override;
    // The same before the job is closed, with the note and the repair that were typed and not entered.
    void takeOverAll();
    // A maker's chart from a text file; what cannot be meant is said.
    void takeChart(const QString& path);

public slots:
    // Shows the job as it stands; what was typed and not yet taken is never touched.
    void refresh() override;

signals:
    void said(const QString& message, bool bad);
    void keepWanted();  // the machine, for the next job
    void pinsWanted();  // the rows of the bench map

private:
    QWidget* makeDetails();
    QWidget* makeComplaint();
    QWidget* makeCodes();
    QWidget* makeWay();
    QWidget* makeJournal();
    void chooseChart();
    void enterNote();
    void enterRepair();
    void enterInstrument();
    void reset();
    void fill(QWidget* field, const QString& value);
    void fillCodes();
    void fillJournal();
    bool isTouched(const QWidget* field) const;
    void settle(std::initializer_list<QWidget*> fields);
    Complaint typedComplaint() const;
    CodesRead typedCodes() const;

    LiveJob* liveJob_ = nullptr;
    bool filling_ = false;
    // What each field was filled with last; where it shows something else, that was typed and is not yet taken.
    QHash<const QWidget*, QString> filled_;
    std::vector<Code> codesSettled_;  // that the table stood for when it was filled or taken last
    std::int64_t journalShown_ = 0;   // entries in the list
    QLineEdit *title_, *customer_, *serial_, *hours_, *technician_, *when_, *note_, *repair_;
    QLabel *machine_, *found_;
    QComboBox* repaired_;
    TextArea *complaint_, *fails_, *works_, *replaced_;
    QTableWidget* codes_;
    QComboBox *mated_, *order_, *short_, *full_, *state_;
    QLineEdit *meter_, *inputResistance_, *clamp_;
    QListWidget* journal_;
};

}  // namespace ilvek::app
