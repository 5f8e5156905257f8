#pragma once

#include "desk/open_clip.h"
#include "desk/open_visit.h"
#include "desk/plan_edits.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLayout;
class QVBoxLayout;

namespace kestrel::app {

/// What all reps of the visit show: strengths, faults with readings, how
/// often and why, and the coach's word on each.
class FindingsPanel : public QWidget {
    Q_OBJECT
  public:
    explicit FindingsPanel(desk::OpenClip& open, desk::OpenVisit& visit, desk::PlanEdits& planEdits,
                           QWidget* parent = nullptr);

    /// Fills the panel from the clip that has to be open.
    void refresh();

  signals:
    /// The coach wants to see a position of a rep on its frame.
    void showPosition(kestrel::model::RepId repId, const QString& positionId);

  private:
    /// How many reps nobody has looked at.
    void refreshProvisional();
    /// Which reps do not count because of their films.
    void refreshNotJudged();
    void refreshFindings();
    void refreshDismissed();
    void refreshAddable();
    QWidget* faultCard(const model::Fault& fault, bool claimed);
    QLayout* makeFaultButtons(const model::Fault& fault);
    [[nodiscard]] QString faultText(const model::Fault& fault) const;
    [[nodiscard]] QString nameOf(const std::string& faultId) const;
    /// Changes the coach's word on a fault.
    void say(const std::string& faultId, const QString& what,
             const std::function<void(model::FindingWord&)>& change);
    void askWhyDismissed(const std::string& faultId);
    void askForWords(const std::string& faultId);

    desk::OpenClip& open_;
    desk::OpenVisit& visit_;
    desk::PlanEdits& planEdits_;
    QLabel* why_ = nullptr;
    QLabel* provisional_ = nullptr;
    QLabel* notJudged_ = nullptr;
    QVBoxLayout* findingRows_ = nullptr;
    QVBoxLayout* dismissedRows_ = nullptr;
    QComboBox* add_ = nullptr;
    QLabel* strengths_ = nullptr;
};

} // namespace kestrel::app
