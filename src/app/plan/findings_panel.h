#pragma once

#include "app/session.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QVBoxLayout;

namespace kestrel::app {

/// What all reps of the visit show: strengths, faults with readings, how
/// often and why, and the coach's word on each.
class FindingsPanel : public QWidget {
    Q_OBJECT
  public:
    explicit FindingsPanel(Session& session, QWidget* parent = nullptr);

    /// Fills the panel from the session, which has to have a clip open.
    void refresh();

  signals:
    /// The coach wants to see a position of a rep on its frame.
    void showPosition(qint64 repId, const QString& positionId);

  private:
    void refreshFindings();
    void refreshDismissed();
    void refreshAddable();
    QWidget* faultCard(const model::Fault& fault, bool claimed);
    [[nodiscard]] QString faultText(const model::Fault& fault) const;
    [[nodiscard]] QString nameOf(const std::string& faultId) const;
    /// Changes the coach's word on a fault.
    void say(const std::string& faultId, const QString& what,
             const std::function<void(model::FindingWord&)>& change);
    void askWhyDismissed(const std::string& faultId);
    void askForWords(const std::string& faultId);

    Session& session_;
    QLabel* why_ = nullptr;
    QVBoxLayout* findingRows_ = nullptr;
    QVBoxLayout* dismissedRows_ = nullptr;
    QComboBox* add_ = nullptr;
    QLabel* strengths_ = nullptr;
};

} // namespace kestrel::app
