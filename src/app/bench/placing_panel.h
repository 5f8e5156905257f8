#pragma once

#include "desk/clip_preparer.h"
#include "desk/landmark_search.h"
#include "desk/open_clip.h"
#include "desk/problems.h"
#include "desk/rep_edits.h"

#include <QWidget>

#include <optional>
#include <string>
#include <vector>

class QLabel;
class QListWidget;
class QPushButton;
class QVBoxLayout;

namespace kestrel::app {

class Loupe;

/// Guided placing: which landmarks the chosen position needs, which is next, where each is. Works
/// on the frame of the position.
class PlacingPanel : public QWidget {
    Q_OBJECT
  public:
    PlacingPanel(desk::Problems& problems, desk::OpenClip& open, desk::RepEdits& repEdits,
                 desk::LandmarkSearch& search, desk::ClipPreparer& preparer,
                 QWidget* parent = nullptr);

    /// The position whose landmarks are placed.
    void setPosition(const std::string& positionId);

    [[nodiscard]] Loupe& loupe() { return *loupe_; }
    /// The landmark that the next click places.
    [[nodiscard]] std::optional<model::Landmark> next() const { return next_; }
    /// The landmark that arrow keys move.
    [[nodiscard]] std::optional<model::Landmark> selected() const { return selected_; }

    void placeNext(QPointF picture);
    void moveTo(model::Landmark landmark, QPointF picture);
    void nudgeSelected(QPointF by);
    void hideNextOrSelected();
    void removeSelected();
    void select(std::optional<model::Landmark> landmark);
    void setPositionHere();
    void clearPosition();
    /// Takes what is asked about, the chosen machine-made landmark or else this found position, as
    /// right and goes to the next to be looked at.
    void confirmSelected();
    /// Takes this position and all machine-made landmarks of it as right.
    void confirmAll();
    /// Goes to what the machine set and matters most for the readings: a position or a landmark.
    void lookAtMostDoubtful();
    /// Starts looking for landmarks of whoever moves, or stops it, also where the clip is being
    /// prepared.
    void proposeOrCancel();
    /// Asks for a click on the player whose landmarks are to be looked for.
    void askForPlayer();
    /// The same, to look for them from this frame on only.
    void askForPlayerFromHere();
    /// Puts the chosen or next landmark where it is in the nearest earlier frame.
    void copyFromBefore();
    /// Follows what is placed through the film.
    void followPlaced();
    /// Exchanges left and right in the frame looked at.
    void swapSides();

  signals:
    void selectionChanged();
    /// Everything that this position needs is placed.
    void positionComplete();
    /// Another position is to be worked on.
    void positionWanted(const QString& id);

  private:
    void addList(QVBoxLayout& column);
    void addButtons(QVBoxLayout& column);
    void refresh();
    [[nodiscard]] bool isBeingPrepared() const;
    /// The point of a landmark at the position; null when there is none.
    [[nodiscard]] const model::LandmarkPoint* pointOf(model::Landmark landmark) const;
    /// What the position needs, and which of it is asked for next.
    void chooseNext(const technique::Position& position);
    /// How many of the landmarks that the position needs nobody has confirmed.
    [[nodiscard]] int proposedHere() const;
    /// What the coach is asked to do now.
    [[nodiscard]] QString asksFor(const technique::Position& position) const;
    void listLandmarks();
    void enableButtons();
    /// Loupe, list and buttons are there while something is to be placed, looked at or stopped, or
    /// the coach wants them; else the readings have the room.
    void showTools();
    [[nodiscard]] bool somethingIsToDo() const;
    [[nodiscard]] std::optional<int> positionFrame() const;
    [[nodiscard]] bool onPositionFrame() const;
    [[nodiscard]] bool isProposed(model::Landmark landmark) const;
    /// What the machine says of this position; null when the coach has set it.
    [[nodiscard]] const model::FoundInstant* found() const;
    /// What the coach has yet to say of the camera before this position can be looked for; empty
    /// when nothing is missing, or there are no tracked landmarks to look in.
    [[nodiscard]] QString toldByTheCamera() const;
    /// What was placed of implement or ball here and is not told in any other frame; empty when
    /// there is nothing to say of it.
    [[nodiscard]] QString knownHereOnly() const;
    [[nodiscard]] QString askAbout(const model::FoundInstant& found) const;
    /// A click on the player is waited for, and what it is for.
    enum class Asking { nothing, wholeRep, fromHere };
    void askWho(Asking what);
    void showProposing(std::optional<double> share);
    [[nodiscard]] QString spokenName(model::Landmark landmark) const;
    void put(model::Landmark landmark, QPointF picture, const QString& what,
             std::optional<int> gesture = std::nullopt);

    desk::OpenClip& open_;
    desk::RepEdits& repEdits_;
    desk::LandmarkSearch& search_;
    desk::ClipPreparer& preparer_;
    std::string position_;
    std::vector<model::Landmark> needed_;
    std::vector<model::Landmark> offered_; ///< things besides, to be placed wherever they are seen
    std::optional<model::Landmark> next_;
    std::optional<model::Landmark> selected_;
    int nudging_ = 0; ///< the row of nudges under way
    Asking asking_ = Asking::nothing;
    QLabel* title_ = nullptr;
    QLabel* ask_ = nullptr;
    QWidget* tools_ = nullptr;
    QPushButton* wantTools_ = nullptr;
    QListWidget* list_ = nullptr;
    QPushButton* setHere_ = nullptr;
    QPushButton* clear_ = nullptr;
    QPushButton* hide_ = nullptr;
    QPushButton* remove_ = nullptr;
    QPushButton* propose_ = nullptr;
    QPushButton* confirm_ = nullptr;
    QPushButton* confirmAll_ = nullptr;
    QPushButton* doubtful_ = nullptr;
    QPushButton* fromHere_ = nullptr;
    QPushButton* copy_ = nullptr;
    QPushButton* follow_ = nullptr;
    Loupe* loupe_ = nullptr;
};

} // namespace kestrel::app
