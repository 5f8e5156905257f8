#pragma once

#include "desk/comparison.h"
#include "desk/open_clip.h"
#include "desk/open_visit.h"

#include <QWidget>

#include <string>

class QComboBox;
class QLabel;
class QTreeWidget;

namespace kestrel::app {

class RepeatsChart;

/// What differs between the open rep and the other one: in words, in findings, in figures with
/// their ±, and over the motion.
class DifferencesPanel : public QWidget {
    Q_OBJECT
  public:
    DifferencesPanel(desk::OpenClip& open, desk::OpenVisit& visit, desk::Comparison& comparison,
                     QWidget* parent = nullptr);

  signals:
    /// A reading was chosen, or none any more; it is taken at that position.
    void chosen(const QString& measureId, const QString& positionId);

  private:
    void refresh();
    void showTable();
    void showFindings();
    void showCourses();
    [[nodiscard]] coaching::DifferenceOrder order() const;

    desk::OpenClip& open_;
    desk::OpenVisit& visit_;
    desk::Comparison& comparison_;
    QLabel* says_ = nullptr;
    QLabel* findings_ = nullptr;
    QComboBox* order_ = nullptr;
    QTreeWidget* table_ = nullptr;
    QLabel* course_ = nullptr;
    RepeatsChart* chart_ = nullptr;
    std::string chosen_;
};

} // namespace kestrel::app
