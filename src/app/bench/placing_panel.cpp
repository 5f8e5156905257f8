#include "app/bench/placing_panel.h"

#include "app/bench/found_text.h"
#include "app/shared/counted.h"
#include "app/shared/loupe.h"
#include "model/input_error.h"
#include "model/reading.h"
#include "technique/judge/evaluate.h"
#include "technique/pack/roles.h"
#include "technique/positions/doubt.h"
#include "track/files/landmark_file.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>
#include <utility>

namespace kestrel::app {

PlacingPanel::PlacingPanel(desk::Problems& problems, desk::OpenClip& open, desk::RepEdits& repEdits,
                           desk::LandmarkSearch& search, QWidget* parent)
    : QWidget(parent), problems_(problems), open_(open), repEdits_(repEdits), search_(search) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    title_ = new QLabel;
    title_->setObjectName("placingTitle");
    title_->setProperty("role", "heading");
    auto* heading = new QHBoxLayout;
    heading->addWidget(title_, 1);
    auto* file = new QPushButton(tr("File"));
    file->setObjectName("landmarkFile");
    file->setAccessibleName(tr("Landmarks to and from a file"));
    file->setFocusPolicy(Qt::NoFocus);
    auto* menu = new QMenu(file);
    menu->addAction(tr("Save landmarks as CSV or TRC…"), this, &PlacingPanel::saveLandmarks)
        ->setObjectName("saveLandmarks");
    menu->addAction(tr("Take landmarks from a file…"), this, &PlacingPanel::takeLandmarks)
        ->setObjectName("takeLandmarks");
    file->setMenu(menu);
    heading->addWidget(file);
    column->addLayout(heading);
    ask_ = new QLabel;
    ask_->setObjectName("placingAsk");
    ask_->setWordWrap(true);
    ask_->setMinimumHeight(2 * fontMetrics().lineSpacing() + 4);
    ask_->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    column->addWidget(ask_);

    auto* middle = new QHBoxLayout;
    loupe_ = new Loupe(open_);
    middle->addWidget(loupe_, 0, Qt::AlignTop);
    list_ = new QListWidget;
    list_->setObjectName("landmarkList");
    list_->setAccessibleName(tr("Landmarks of this position"));
    list_->setFocusPolicy(Qt::NoFocus);
    list_->setFixedHeight(loupe_->height());
    list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    middle->addWidget(list_, 1);
    column->addLayout(middle);
    connect(list_, &QListWidget::itemClicked, this, [this](QListWidgetItem* item) {
        const auto landmark = static_cast<model::Landmark>(item->data(Qt::UserRole).toInt());
        const auto frame = positionFrame();
        if (frame) {
            open_.goTo(*frame);
        }
        if (frame && model::find(open_.rep().landmarks, *frame, landmark) != nullptr) {
            select(landmark);
        } else {
            next_ = landmark;
            select(std::nullopt);
        }
    });

    auto* buttons = new QGridLayout;
    buttons->setSpacing(4);
    const auto button = [&](const char* name, const QString& text, const QString& tip, int row,
                            int at, void (PlacingPanel::*work)()) {
        auto* b = new QPushButton(text);
        b->setObjectName(name);
        b->setToolTip(tip);
        b->setFocusPolicy(Qt::NoFocus);
        connect(b, &QPushButton::clicked, this, [this, work] { (this->*work)(); });
        buttons->addWidget(b, row, at);
        return b;
    };
    setHere_ = button("setPosition", tr("Set here (P)"), tr("The frame shown is this key position"),
                      0, 0, &PlacingPanel::setPositionHere);
    clear_ = button("clearPosition", tr("Clear"), tr("Forget the frame of this key position"), 0, 1,
                    &PlacingPanel::clearPosition);
    hide_ =
        button("hideLandmark", tr("Hidden (H)"), tr("The landmark cannot be seen in this frame"), 0,
               2, &PlacingPanel::hideNextOrSelected);
    remove_ = button("removeLandmark", tr("Remove (Del)"), tr("Remove the chosen landmark"), 0, 3,
                     &PlacingPanel::removeSelected);
    propose_ =
        button("proposeLandmarks", tr("Propose (L)"), {}, 1, 0, &PlacingPanel::proposeOrCancel);
    doubtful_ =
        button("nextDoubtful", tr("Check next (N)"),
               tr("Goes to the proposed position or landmark that matters most for the readings"),
               1, 1, &PlacingPanel::lookAtMostDoubtful);
    confirm_ = button("confirmLandmark", tr("Confirm (↵)"),
                      tr("The proposed landmark or position asked about is right"), 1, 2,
                      &PlacingPanel::confirmSelected);
    confirmAll_ = button("confirmPosition", tr("Confirm all (⇧↵)"),
                         tr("This position and all its proposed landmarks are right"), 1, 3,
                         &PlacingPanel::confirmAll);
    button("swapSides", tr("Swap sides (X)"), tr("Left and right are exchanged in this frame"), 2,
           0, &PlacingPanel::swapSides);
    copy_ = button("copyFromBefore", tr("Copy (C)"),
                   tr("Puts the chosen or next landmark where it is in the frame before"), 2, 1,
                   &PlacingPanel::copyFromBefore);
    fromHere_ =
        button("trackFromHere", tr("Track on (T)"), {}, 2, 2, &PlacingPanel::askForPlayerFromHere);
    follow_ = button("followPlaced", tr("Follow (F)"), {}, 2, 3, &PlacingPanel::followPlaced);
    column->addLayout(buttons);
    showProposing(std::nullopt);
    connect(&search_, &desk::LandmarkSearch::progress, this, &PlacingPanel::showProposing);

    connect(&open_, &desk::OpenClip::opened, this,
            [this] { setPosition(open_.pack().positions.front().id); });
    connect(&open_, &desk::OpenClip::marksChanged, this, [this] { refresh(); });
    connect(&open_, &desk::OpenClip::frameChanged, this, [this] {
        if (!onPositionFrame()) {
            selected_.reset();
        }
        refresh();
    });
}

std::optional<int> PlacingPanel::positionFrame() const {
    return model::frameOf(open_.rep(), position_);
}

const model::FoundInstant* PlacingPanel::found() const {
    return open_.hasClip() ? model::onlyFound(open_.rep(), position_) : nullptr;
}

QString PlacingPanel::askAbout(const model::FoundInstant& found) const {
    const QString name =
        QString::fromStdString(technique::findPosition(open_.pack(), position_)->name);
    const QString way = tr("Enter if it is, else step to it and press P.");
    const QString doubt =
        found.confidence >= technique::sureConfidence
            ? tr("sure it is this moment")
            : tr("%1 % sure it is this moment").arg(std::lround(100.0 * found.confidence));
    const int frames = foundFrames(found, open_.circumstances().time);
    const QString off = frames == 1 ? tr("± 1 frame") : tr("± %1 frames").arg(frames);
    return tr("Is this %1 (%2, %3)? %4").arg(name, off, doubt, way);
}

bool PlacingPanel::onPositionFrame() const {
    return open_.hasClip() && positionFrame() == open_.frame();
}

QString PlacingPanel::toldByTheCamera() const {
    const auto& landmarks = open_.rep().landmarks;
    const bool tracked = std::any_of(landmarks.begin(), landmarks.end(), [](const auto& points) {
        return std::any_of(points.second.begin(), points.second.end(), [](const auto& point) {
            return point.second.source != model::Source::placed;
        });
    });
    if (!tracked) {
        return {};
    }
    if (open_.captureRateMissing()) {
        return tr("Say on the Film station how many frames a second the camera took, and this "
                  "position is looked for. Or set it with P.");
    }
    if (!open_.clip().view) {
        return tr("Say on the Film station from where this was filmed, and this position is looked "
                  "for. Or set it with P.");
    }
    return {};
}

QString PlacingPanel::spokenName(model::Landmark landmark) const {
    return QString::fromStdString(technique::spoken(
        technique::roleName(open_.pack(), technique::findPosition(open_.pack(), position_),
                            landmark, open_.player().hand)));
}

void PlacingPanel::setPosition(const std::string& positionId) {
    position_ = positionId;
    selected_.reset();
    next_.reset();
    refresh();
    emit selectionChanged();
}

void PlacingPanel::refresh() {
    if (!open_.hasClip() || position_.empty()) {
        return;
    }
    const technique::Position* position = technique::findPosition(open_.pack(), position_);
    if (position == nullptr) {
        return;
    }
    const auto frame = positionFrame();
    needed_ = technique::landmarksToPlace(open_.pack(), *position, open_.circumstances());
    offered_.clear();
    for (const model::Landmark thing : open_.pack().things) {
        if (std::find(needed_.begin(), needed_.end(), thing) == needed_.end()) {
            offered_.push_back(thing);
        }
    }
    const auto pointOf = [&](model::Landmark landmark) {
        return frame ? model::find(open_.rep().landmarks, *frame, landmark) : nullptr;
    };
    // The next landmark to ask for: the one chosen by hand while it is missing, else the first.
    if (!next_ || pointOf(*next_) != nullptr ||
        (std::find(needed_.begin(), needed_.end(), *next_) == needed_.end() &&
         std::find(offered_.begin(), offered_.end(), *next_) == offered_.end())) {
        const auto missing = std::find_if(needed_.begin(), needed_.end(),
                                          [&](model::Landmark l) { return pointOf(l) == nullptr; });
        next_ = missing == needed_.end() ? std::nullopt : std::optional(*missing);
    }
    if (selected_ && pointOf(*selected_) == nullptr) {
        selected_.reset();
    }

    const auto proposed = static_cast<int>(std::count_if(
        needed_.begin(), needed_.end(), [&](model::Landmark l) { return isProposed(l); }));
    const QString name = QString::fromStdString(position->name);
    title_->setText(name);
    if (asking_ != Asking::nothing) {
        ask_->setText(tr("Click on the player to be followed; Esc lets it be."));
    } else if (!frame) {
        const QString missing = toldByTheCamera();
        ask_->setText(missing.isEmpty() ? tr("%1 Go to that frame and set it with P.")
                                              .arg(QString::fromStdString(position->definition))
                                        : missing);
    } else if (found() != nullptr && onPositionFrame() && !selected_) {
        ask_->setText(askAbout(*found()));
    } else if (needed_.empty()) {
        ask_->setText(tr("Set. No landmarks are needed here."));
    } else if (!onPositionFrame()) {
        ask_->setText(tr("You are off %1. Choose it above to go on placing, or press P to move it "
                         "here.")
                          .arg(name));
    } else if (selected_ && isProposed(*selected_)) {
        const double sd = pointOf(*selected_)->sdPx;
        ask_->setText(
            tr("Is the %1 here (± %2 pixels)? Enter if it is, else click where it is; H if "
               "it is hidden.")
                .arg(spokenName(*selected_))
                .arg(model::coverage95 * sd, 0, 'f', 0));
    } else if (selected_) {
        ask_->setText(tr("Arrow keys move the %1 by a quarter pixel, with Shift by two pixels; Esc "
                         "lets go.")
                          .arg(spokenName(*selected_)));
    } else if (next_) {
        ask_->setText(tr("Click the %1.").arg(spokenName(*next_)));
    } else if (proposed > 0) {
        ask_->setText(counted(proposed, tr("1 proposed landmark of %2 to look at: N goes to it."),
                              tr("%1 proposed landmarks of %2 to look at: N goes to the one that "
                                 "matters most, Shift+Enter takes all."))
                          .arg(name));
    } else {
        ask_->setText(tr("All landmarks of %1 are placed. ] goes to the next position.").arg(name));
    }
    if (const QString only = knownHereOnly(); !only.isEmpty() && asking_ == Asking::nothing) {
        ask_->setText(ask_->text() + " " + only);
    }

    list_->clear();
    std::vector<model::Landmark> listed = needed_;
    listed.insert(listed.end(), offered_.begin(), offered_.end());
    for (const model::Landmark landmark : listed) {
        const model::LandmarkPoint* point = pointOf(landmark);
        const bool machine = isProposed(landmark);
        const bool optional =
            std::find(offered_.begin(), offered_.end(), landmark) != offered_.end();
        const char* const sign = point == nullptr ? (optional ? "+ " : "○ ")
                                 : point->hidden  ? "– "
                                 : machine        ? "◌ "
                                                  : "● ";
        const QString note =
            point != nullptr && point->hidden ? tr(" (hidden)")
            : !machine                        ? QString()
            : point->occluded
                ? tr(" ± %1 px, covered").arg(model::coverage95 * point->sdPx, 0, 'f', 0)
                : tr(" ± %1 px").arg(model::coverage95 * point->sdPx, 0, 'f', 0);
        auto* item = new QListWidgetItem(QString::fromUtf8(sign) + spokenName(landmark) + note);
        item->setData(Qt::UserRole, static_cast<int>(landmark));
        list_->addItem(item);
        if (landmark == (selected_ ? selected_ : next_)) {
            list_->setCurrentItem(item);
        }
    }
    setHere_->setEnabled(true);
    clear_->setEnabled(frame.has_value() && found() == nullptr);
    hide_->setEnabled(onPositionFrame() && (selected_ || next_));
    copy_->setEnabled(onPositionFrame() && (selected_ || next_));
    remove_->setEnabled(onPositionFrame() && selected_ && !isProposed(*selected_));
    confirm_->setEnabled(onPositionFrame() &&
                         (selected_ ? isProposed(*selected_) : found() != nullptr));
    confirmAll_->setEnabled(frame.has_value() && (proposed > 0 || found() != nullptr));
    const auto& landmarks = open_.rep().landmarks;
    const QString hindrance = search_.followingHindrance();
    follow_->setEnabled(hindrance.isEmpty() && !search_.isSearching());
    follow_->setToolTip(
        hindrance.isEmpty()
            ? tr("Follows what you placed: joints in the frames around, implement, ball and "
                 "glove through the rep")
            : hindrance);
    doubtful_->setEnabled(
        !open_.rep().found.empty() ||
        std::any_of(landmarks.begin(), landmarks.end(), [](const auto& points) {
            return std::any_of(points.second.begin(), points.second.end(), [](const auto& point) {
                return point.second.source != model::Source::placed;
            });
        }));
}

bool PlacingPanel::isProposed(model::Landmark landmark) const {
    const auto frame = positionFrame();
    const model::LandmarkPoint* point =
        frame ? model::find(open_.rep().landmarks, *frame, landmark) : nullptr;
    return point != nullptr && point->source != model::Source::placed;
}

void PlacingPanel::showProposing(std::optional<double> share) {
    if (share) {
        propose_->setText(tr("Stop (%1 %)").arg(std::lround(100.0 * *share)));
        propose_->setToolTip(tr("Stops looking for landmarks; nothing is changed"));
        fromHere_->setEnabled(false);
        return;
    }
    const QString hindrance = desk::LandmarkSearch::hindrance();
    fromHere_->setEnabled(hindrance.isEmpty());
    fromHere_->setToolTip(hindrance.isEmpty()
                              ? tr("You click on the player, who is then followed anew from this "
                                   "frame to the end of the rep; what comes before stays")
                              : hindrance);
    propose_->setText(tr("Propose (L)"));
    propose_->setEnabled(hindrance.isEmpty());
    propose_->setToolTip(
        hindrance.isEmpty() ? tr("Looks for the landmarks of whoever moves in all frames of this "
                                 "rep; with Shift+L you click on the player first. What you placed "
                                 "stays as it is")
                            : hindrance);
}

void PlacingPanel::proposeOrCancel() {
    if (!open_.hasClip()) {
        return;
    }
    if (search_.isSearching()) {
        search_.cancel();
    } else if (propose_->isEnabled()) {
        search_.propose();
    }
}

void PlacingPanel::askWho(Asking what) {
    if (open_.hasClip() && !search_.isSearching() && propose_->isEnabled()) {
        asking_ = what;
        refresh();
    }
}

void PlacingPanel::askForPlayer() {
    askWho(Asking::wholeRep);
}

void PlacingPanel::askForPlayerFromHere() {
    askWho(Asking::fromHere);
}

QString PlacingPanel::knownHereOnly() const {
    const auto frame = positionFrame();
    if (!frame || !onPositionFrame() || !search_.followingHindrance().isEmpty()) {
        return {};
    }
    const model::LandmarkTrack& landmarks = open_.rep().landmarks;
    const auto onlyHere = [&](model::Landmark landmark) {
        const model::LandmarkPoint* here = model::find(landmarks, *frame, landmark);
        return here != nullptr && here->source == model::Source::placed && !here->hidden &&
               std::none_of(landmarks.begin(), landmarks.end(), [&](const auto& points) {
                   const auto point = points.second.find(landmark);
                   return point != points.second.end() &&
                          point->second.source == model::Source::tracked;
               });
    };
    if (onlyHere(model::Landmark::implementTip) || onlyHere(model::Landmark::implementHead)) {
        return tr("The implement is known in this frame only: F follows it, from a frame that "
                  "shows its whole length.");
    }
    if (onlyHere(model::Landmark::ball)) {
        return tr("The ball is known in this frame only: F follows it.");
    }
    return {};
}

void PlacingPanel::followPlaced() {
    if (open_.hasClip() && follow_->isEnabled()) {
        search_.followPlaced();
    }
}

void PlacingPanel::copyFromBefore() {
    const auto landmark = selected_ ? selected_ : next_;
    if (onPositionFrame() && landmark) {
        repEdits_.copyFromBefore(open_.frame(), {*landmark});
        select(landmark);
    }
}

void PlacingPanel::saveLandmarks() {
    if (!open_.hasClip()) {
        return;
    }
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Save landmarks"), QString::fromStdString(open_.clip().title + ".landmarks.csv"),
        tr("Landmarks as CSV (*.csv);;Landmarks as TRC (*.trc)"));
    if (file.isEmpty()) {
        return;
    }
    problems_.trying([&] {
        track::writeLandmarkFile(file.toStdString(), open_.rep().landmarks,
                                 open_.circumstances().time);
    });
}

void PlacingPanel::takeLandmarks() {
    if (!open_.hasClip()) {
        return;
    }
    const QString file = QFileDialog::getOpenFileName(this, tr("Take landmarks from a file"), {},
                                                      tr("Landmarks (*.csv *.trc)"));
    if (file.isEmpty()) {
        return;
    }
    problems_.trying([&] {
        const model::LandmarkTrack landmarks = track::readLandmarkFile(file.toStdString());
        if (!landmarks.empty() && landmarks.rbegin()->first >= open_.index().frameCount()) {
            throw model::InputError(
                tr("“%1” speaks of frame %2; this clip ends with frame %3.")
                    .arg(QFileInfo(file).fileName())
                    .arg(landmarks.rbegin()->first)
                    .arg(open_.index().frameCount() - 1)
                    .toStdString(),
                tr("Nothing was changed.").toStdString(),
                tr("Choose the file that was saved for this clip.").toStdString());
        }
        repEdits_.takeLandmarks(landmarks);
    });
}

void PlacingPanel::swapSides() {
    if (open_.hasClip()) {
        repEdits_.swapSides(open_.frame());
    }
}

void PlacingPanel::confirmSelected() {
    if (!onPositionFrame()) {
        return;
    }
    if (selected_ && isProposed(*selected_)) {
        repEdits_.confirmLandmarks(open_.frame(), {*selected_});
    } else if (!selected_ && found() != nullptr) {
        repEdits_.confirmPosition(position_);
    } else {
        return;
    }
    lookAtMostDoubtful();
}

void PlacingPanel::confirmAll() {
    if (!open_.hasClip()) {
        return;
    }
    if (found() != nullptr) {
        repEdits_.confirmPosition(position_, needed_);
    } else if (const auto frame = positionFrame()) {
        repEdits_.confirmLandmarks(*frame, needed_);
    }
    select(std::nullopt);
}

void PlacingPanel::lookAtMostDoubtful() {
    if (!open_.hasClip()) {
        return;
    }
    const auto doubts = technique::doubtsOf(open_.pack(), open_.rep(), open_.circumstances());
    if (doubts.empty()) {
        select(std::nullopt);
        return;
    }
    const technique::Doubtful& first = doubts.front();
    if (first.positionId != position_) {
        emit positionWanted(QString::fromStdString(first.positionId));
    }
    open_.goTo(first.frame);
    select(first.landmark);
    if (first.landmark) {
        const model::Point2 at =
            model::find(open_.rep().landmarks, first.frame, *first.landmark)->px;
        loupe_->lookAt({at.x, at.y});
    }
}

void PlacingPanel::put(model::Landmark landmark, QPointF picture, const QString& what, bool joins) {
    model::LandmarkPoint point;
    point.px = {picture.x(), picture.y()};
    repEdits_.setLandmark(open_.frame(), landmark, point,
                          tr("%1 %2").arg(what, spokenName(landmark)), joins);
}

void PlacingPanel::placeNext(QPointF picture) {
    if (const Asking what = std::exchange(asking_, Asking::nothing); what != Asking::nothing) {
        const model::Point2 player{picture.x(), picture.y()};
        what == Asking::wholeRep ? search_.propose(player) : search_.trackFromHere(player);
        refresh();
        return;
    }
    // A proposed landmark that is looked at is put where the click is.
    const bool corrects = selected_ && isProposed(*selected_);
    const auto landmark = corrects ? selected_ : next_;
    if (!onPositionFrame() || !landmark) {
        return;
    }
    const bool inside = picture.x() >= -0.5 && picture.y() >= -0.5 &&
                        picture.x() < open_.index().width - 0.5 &&
                        picture.y() < open_.index().height - 0.5;
    if (!inside) {
        return;
    }
    put(*landmark, picture, corrects ? tr("Correct") : tr("Place"), false);
    if (corrects) {
        lookAtMostDoubtful();
        return;
    }
    selected_.reset();
    emit selectionChanged();
    if (!next_) {
        emit positionComplete();
    }
}

void PlacingPanel::moveTo(model::Landmark landmark, QPointF picture) {
    put(landmark, picture, tr("Move"), true);
    select(landmark);
}

void PlacingPanel::nudgeSelected(QPointF by) {
    const model::LandmarkPoint* point =
        selected_ ? model::find(open_.rep().landmarks, open_.frame(), *selected_) : nullptr;
    if (point != nullptr && !point->hidden) {
        put(*selected_, QPointF(point->px.x, point->px.y) + by, tr("Move"), true);
    }
}

void PlacingPanel::hideNextOrSelected() {
    const auto landmark = selected_ ? selected_ : next_;
    if (!onPositionFrame() || !landmark) {
        return;
    }
    model::LandmarkPoint point;
    point.hidden = true;
    const bool wasProposed = isProposed(*landmark);
    repEdits_.setLandmark(open_.frame(), *landmark, point,
                          tr("Hide %1").arg(spokenName(*landmark)));
    if (wasProposed) {
        lookAtMostDoubtful();
    } else {
        select(std::nullopt);
    }
}

void PlacingPanel::removeSelected() {
    if (onPositionFrame() && selected_) {
        repEdits_.setLandmark(open_.frame(), *selected_, std::nullopt,
                              tr("Remove %1").arg(spokenName(*selected_)));
        select(std::nullopt);
    }
}

void PlacingPanel::select(std::optional<model::Landmark> landmark) {
    asking_ = Asking::nothing;
    selected_ = landmark;
    refresh();
    emit selectionChanged();
}

void PlacingPanel::setPositionHere() {
    if (open_.hasClip()) {
        repEdits_.setPosition(position_, open_.frame());
    }
}

void PlacingPanel::clearPosition() {
    if (open_.hasClip()) {
        repEdits_.setPosition(position_, std::nullopt);
    }
}

} // namespace kestrel::app
