#pragma once

#include "desk/clip_edits.h"
#include "desk/open_clip.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QPushButton;

namespace kestrel::app {

/// The reps of the clip: proposed ones to take over, and for each its name, start type, shot and
/// result.
class RepsPanel : public QWidget {
    Q_OBJECT
  public:
    explicit RepsPanel(desk::OpenClip& open, desk::ClipEdits& clipEdits, QWidget* parent = nullptr);

  private:
    void refresh();
    void refreshProposal();
    /// Changes the open rep by `change` as one edit.
    void changeRep(const QString& what, const std::function<void(model::Rep&)>& change);

    desk::OpenClip& open_;
    desk::ClipEdits& clipEdits_;
    QLabel* proposal_ = nullptr;
    QPushButton* take_ = nullptr;
    QListWidget* list_ = nullptr;
    QPushButton* add_ = nullptr;
    QPushButton* remove_ = nullptr;
    QLineEdit* title_ = nullptr;
    QComboBox* variant_ = nullptr;
    QComboBox* shot_ = nullptr;
    QLineEdit* result_ = nullptr;
    QPushButton* startHere_ = nullptr;
    QPushButton* endHere_ = nullptr;
    bool filling_ = false;
};

} // namespace kestrel::app
