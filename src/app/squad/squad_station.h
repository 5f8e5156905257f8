#pragma once

#include "desk/desk.h"

#include <QWidget>

#include <map>

class QCheckBox;
class QLabel;
class QLayout;
class QListWidget;
class QPushButton;
class QVBoxLayout;

namespace kestrel::app {

/// Players, and the clips of the one chosen, with where each stands.
class SquadStation : public QWidget {
    Q_OBJECT
  public:
    explicit SquadStation(desk::Desk& desk, QWidget* parent = nullptr);

    /// 0 when there is no player yet.
    [[nodiscard]] model::PlayerId currentPlayer() const;

  signals:
    void openClip(kestrel::model::ClipId clipId);
    void bringIn();

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    /// The chosen player with the clips.
    QLayout* makePlayer();
    void refreshPlayers();
    void refreshClips();
    void refreshWhenSeen();
    void showPreparing(const std::optional<desk::ClipPreparer::Progress>& how);
    void editPlayer(bool fresh);
    void choosePlayer(model::PlayerId id);
    /// The player of the clip that is open, or was open last; 0 when there is none.
    [[nodiscard]] model::PlayerId playerOfLastClip() const;
    /// What follows from the readings of a marked rep, or why nothing does.
    [[nodiscard]] QString judgement(const model::Player& player, const model::Clip& clip,
                                    const model::Rep& rep) const;
    QWidget* clipCard(const model::Player& player, const model::Clip& clip);

    desk::Desk& desk_;
    QListWidget* players_ = nullptr;
    QLabel* heading_ = nullptr;
    QLabel* about_ = nullptr;
    QPushButton* edit_ = nullptr;
    QPushButton* bringIn_ = nullptr;
    QPushButton* prepare_ = nullptr;
    QCheckBox* byItself_ = nullptr;
    std::map<model::ClipId, QLabel*> states_; ///< what is said of each clip that is listed
    QVBoxLayout* clips_ = nullptr;
    bool stale_ = false; ///< marks have changed since the clips were listed
};

} // namespace kestrel::app
