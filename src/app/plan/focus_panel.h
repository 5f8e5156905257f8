#pragma once

#include "desk/open_clip.h"
#include "desk/open_visit.h"
#include "desk/plan_edits.h"
#include "desk/shelf.h"

#include <QTimer>
#include <QWidget>

class QComboBox;
class QLabel;
class QPlainTextEdit;
class QVBoxLayout;

namespace kestrel::app {

/// The one focus with its cues, the drills to take home and a note.
class FocusPanel : public QWidget {
    Q_OBJECT
  public:
    explicit FocusPanel(desk::Shelf& shelf, desk::OpenClip& open, desk::OpenVisit& visit,
                        desk::PlanEdits& planEdits, QWidget* parent = nullptr);

    /// Fills the panel from the clip that has to be open.
    void refresh();
    /// Keeps a note that is still being typed.
    void finishNote();

  private:
    void refreshDrills();
    void keepNote();
    void chooseDrills();

    desk::Shelf& shelf_;
    desk::OpenClip& open_;
    desk::OpenVisit& visit_;
    desk::PlanEdits& planEdits_;
    QComboBox* focus_ = nullptr;
    QLabel* cues_ = nullptr;
    QVBoxLayout* drillRows_ = nullptr;
    QPlainTextEdit* note_ = nullptr;
    QTimer noteTimer_;
    bool filling_ = false;
};

} // namespace kestrel::app
