#pragma once

#include "desk/clip_edits.h"
#include "desk/open_clip.h"
#include "desk/problems.h"
#include "desk/second_view.h"
#include "desk/shelf.h"
#include "records/library.h"

#include <QWidget>

class QButtonGroup;
class QCheckBox;
class QComboBox;
class QDateEdit;
class QDoubleSpinBox;
class QLabel;
class QListWidget;
class QPushButton;
class QVBoxLayout;

namespace kestrel::app {

/// What the camera was: capture rate, changes of speed, where it stood, fields, whether it moved.
class CameraPanel : public QWidget {
    Q_OBJECT
  public:
    explicit CameraPanel(const records::Library& library, desk::Problems& problems,
                         desk::Shelf& shelf, desk::OpenClip& open, desk::ClipEdits& clipEdits,
                         desk::SecondView& secondView, model::Clock clock,
                         QWidget* parent = nullptr);

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    void addSecondView(QVBoxLayout& column);
    void addFilmed(QVBoxLayout& column);
    QWidget* makeRate();
    QWidget* makeViews();
    QWidget* makeSpeeds();
    void sayRate();
    void setSpeed();
    void refresh();
    void showSecondView();
    void refreshSpeeds();

    const records::Library& library_;
    desk::Problems& problems_;
    desk::Shelf& shelf_;
    desk::OpenClip& open_;
    desk::ClipEdits& clipEdits_;
    desk::SecondView& secondView_;
    model::Clock clock_;
    QLabel* rateQuestion_ = nullptr;
    QComboBox* rate_ = nullptr;
    QButtonGroup* views_ = nullptr;
    QLabel* viewHelp_ = nullptr;
    QDateEdit* filmed_ = nullptr;
    QCheckBox* fields_ = nullptr;
    QComboBox* technique_ = nullptr;
    QComboBox* second_ = nullptr;
    QLabel* secondState_ = nullptr;
    QPushButton* secondSound_ = nullptr;
    QCheckBox* steadied_ = nullptr;
    QLabel* speedProposal_ = nullptr;
    QPushButton* takeSpeeds_ = nullptr;
    QListWidget* speeds_ = nullptr;
    QDoubleSpinBox* slowdown_ = nullptr;
    QPushButton* removeSpeed_ = nullptr;
    bool filling_ = false; ///< controls are being set from the clip, not by the coach
};

} // namespace kestrel::app
