#pragma once

#include "app/shared/thumbnails.h"
#include "desk/desk.h"
#include "words/keys.h"

#include <QWidget>

namespace kestrel::app {

class BodyPanel;
class CurvesBand;
class PlacingPanel;
class PositionStrip;
class ReadingsPanel;
class Stage;
class Transport;

/// The heart of the work: step, set key positions, place landmarks, read.
class BenchStation : public QWidget {
    Q_OBJECT
  public:
    BenchStation(desk::Desk& desk, Thumbnails& thumbnails, QWidget* parent = nullptr);

    /// Chooses a position, by pack id.
    void choosePosition(const std::string& positionId);

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    void moveToRep(int by);
    void nudgeOrStep(int key, bool shift);
    // Each does an action when it is one of its kind; whether it was.
    bool moves(words::Action action);
    bool places(words::Action action);
    bool looks(words::Action action);

    desk::Desk& desk_;
    Stage* stage_ = nullptr;
    PositionStrip* strip_ = nullptr;
    PlacingPanel* placing_ = nullptr;
    ReadingsPanel* readings_ = nullptr;
    Transport* transport_ = nullptr;
    CurvesBand* curves_ = nullptr;
    BodyPanel* body_ = nullptr;
};

} // namespace kestrel::app
