#pragma once

#include "desk/open_clip.h"
#include "desk/open_visit.h"
#include "desk/plan_edits.h"
#include "desk/problems.h"
#include "desk/shelf.h"
#include "records/library.h"

#include <QWidget>

#include <array>

class QCheckBox;
class QComboBox;
class QDateEdit;
class QLabel;
class QPushButton;
class QSpinBox;
class QTreeWidget;
class QVBoxLayout;

namespace kestrel::app {

/// The dated homework: what it has to fit into, its days with ticks, moved by hand. Shows that of
/// the visit before, too, so that its ticks can come in.
class HomeworkPanel : public QWidget {
    Q_OBJECT
  public:
    explicit HomeworkPanel(const records::Library& library, desk::Problems& problems,
                           desk::Shelf& shelf, desk::OpenClip& open, desk::OpenVisit& visit,
                           desk::PlanEdits& planEdits, model::Clock clock,
                           QWidget* parent = nullptr);

    /// Fills the panel from the clip that has to be open.
    void refresh();

  signals:
    void saved(const QString& file);

  private:
    QWidget* makeWish();
    QWidget* makeDays();
    void showWish(const model::PlanWish& wish);
    void showEquipment(const model::PlanWish& wish);
    void showDays();
    void showRemarks(const std::vector<model::Message>& remarks);
    [[nodiscard]] model::PlanWish wished() const;
    void plan();
    /// Moves the day that is chosen by that many days.
    void moveDay(int days);
    void saveCalendar();
    /// The visit whose homework is shown.
    [[nodiscard]] model::VisitKey shownVisit() const;

    const records::Library& library_;
    desk::Problems& problems_;
    desk::Shelf& shelf_;
    desk::OpenClip& open_;
    desk::OpenVisit& visit_;
    desk::PlanEdits& planEdits_;
    model::Clock clock_;
    static constexpr int daysAWeek = 7;
    std::array<QCheckBox*, daysAWeek> weekdays_{};
    std::array<QSpinBox*, daysAWeek> throws_{};
    QSpinBox* minutes_ = nullptr;
    QCheckBox* field_ = nullptr;
    QDateEdit* next_ = nullptr;
    QCheckBox* agreed_ = nullptr;
    QVBoxLayout* equipmentRows_ = nullptr;
    QPushButton* plan_ = nullptr;
    QLabel* remarks_ = nullptr;
    QComboBox* which_ = nullptr;
    QTreeWidget* days_ = nullptr;
    QPushButton* earlier_ = nullptr;
    QPushButton* later_ = nullptr;
    QPushButton* calendar_ = nullptr;
    bool filling_ = false;
    model::VisitKey filledFor_; ///< the visit whose wish stands in the fields
};

} // namespace kestrel::app
