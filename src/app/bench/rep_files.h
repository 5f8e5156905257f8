#pragma once

#include "desk/open_clip.h"
#include "desk/problems.h"
#include "desk/rep_edits.h"

#include <QPushButton>

namespace kestrel::app {

/// What is known of the open rep's body, to and from files: a button with a menu.
class RepFilesButton : public QPushButton {
    Q_OBJECT
  public:
    RepFilesButton(desk::Problems& problems, desk::OpenClip& open, desk::RepEdits& repEdits,
                   QWidget* parent = nullptr);

  private:
    void saveLandmarks();
    void takeLandmarks();
    /// The body in space.
    void saveBody();

    desk::Problems& problems_;
    desk::OpenClip& open_;
    desk::RepEdits& repEdits_;
};

} // namespace kestrel::app
