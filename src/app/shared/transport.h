#pragma once

#include "desk/open_clip.h"

#include <QElapsedTimer>
#include <QTimer>
#include <QWidget>

class QComboBox;
class QLabel;
class QLineEdit;
class QToolButton;

namespace kestrel::app {

class ClipMap;

/// Steps and plays through the film: one frame, ten frames, to a time, at full and reduced speed.
class Transport : public QWidget {
    Q_OBJECT
  public:
    explicit Transport(desk::OpenClip& open, ClipMap& map, QWidget* parent = nullptr);

    void step(int frames);
    void togglePlay();
    void stop();
    [[nodiscard]] bool playing() const { return timer_.isActive(); }

  private:
    void playOn();
    void showPlace();
    void goToTypedTime();
    void giveFocusBack();

    desk::OpenClip& open_;
    QToolButton* play_ = nullptr;
    QComboBox* speed_ = nullptr;
    QLabel* place_ = nullptr;
    QLineEdit* time_ = nullptr;
    QTimer timer_;
    QElapsedTimer since_;
    int playFrom_ = 0;
};

} // namespace kestrel::app
