#pragma once

#include "desk/clip_edits.h"
#include "desk/open_clip.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QVBoxLayout;

namespace kestrel::app {

/// What coaches answer differently: chosen for the open rep, its visit or the player. The rep is
/// judged anew at once, and what changed stands below.
class SchoolDialog : public QDialog {
    Q_OBJECT
  public:
    explicit SchoolDialog(desk::OpenClip& open, desk::ClipEdits& clipEdits,
                          QWidget* parent = nullptr);

  private:
    void build();
    void showChanges();

    desk::OpenClip& open_;
    desk::ClipEdits& clipEdits_;
    QVBoxLayout* questions_ = nullptr;
    QComboBox* forWhom_ = nullptr;
    QLabel* changes_ = nullptr;
};

} // namespace kestrel::app
