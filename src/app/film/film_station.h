#pragma once

#include "app/session.h"
#include "app/shared/thumbnails.h"

#include <QWidget>

class QButtonGroup;
class QComboBox;
class QDateEdit;
class QLabel;

namespace kestrel::app {

class Stage;
class Transport;

/// Looks at a film and says what the camera was: capture rate, view, day, start type.
class FilmStation : public QWidget {
    Q_OBJECT
  public:
    FilmStation(Session& session, Thumbnails& thumbnails, QWidget* parent = nullptr);

  signals:
    /// The coach wants to bring in a film for the player.
    void bringIn();
    void toBench();

  protected:
    void keyPressEvent(QKeyEvent* event) override;

  private:
    QWidget* makeFacts();
    void refresh();
    [[nodiscard]] QString facts() const;

    Session& session_;
    Stage* stage_ = nullptr;
    Transport* transport_ = nullptr;
    QLabel* title_ = nullptr;
    QLabel* facts_ = nullptr;
    QLabel* rateQuestion_ = nullptr;
    QComboBox* rate_ = nullptr;
    QComboBox* view_ = nullptr;
    QLabel* viewHelp_ = nullptr;
    QComboBox* variant_ = nullptr;
    QDateEdit* filmed_ = nullptr;
    QLabel* advice_ = nullptr;
    QWidget* form_ = nullptr;
    bool filling_ = false; ///< controls are being set from the clip, not by the coach
};

} // namespace kestrel::app
