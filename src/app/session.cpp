#include "app/session.h"

#include "app/background.h"
#include "model/input_error.h"
#include "report/picture_image.h"

#include <QDate>
#include <QUndoCommand>

#include <algorithm>

namespace kestrel::app {
namespace {

class Edit : public QUndoCommand {
  public:
    Edit(const QString& name, std::function<void()> apply, std::function<void()> revert, int joinId)
        : QUndoCommand(name),
          apply_(std::move(apply)),
          revert_(std::move(revert)),
          joinId_(joinId) {}

    void redo() override { apply_(); }
    void undo() override { revert_(); }
    [[nodiscard]] int id() const override { return joinId_; }
    bool mergeWith(const QUndoCommand* next) override {
        if (next->text() != text()) {
            return false;
        }
        apply_ = static_cast<const Edit*>(next)->apply_;
        return true;
    }

  private:
    std::function<void()> apply_;
    std::function<void()> revert_;
    int joinId_;
};

model::IsoDate today() {
    return QDate::currentDate().toString(Qt::ISODate).toStdString();
}

/// Time in the clip as far as it is known, and whether the capture rate is.
void setTime(technique::Circumstances& circumstances, const film::FilmIndex& index,
             const model::Clip& clip) {
    circumstances.captureRateKnown = clip.captureRate.has_value() || !clip.speeds.empty();
    circumstances.time =
        clip.speeds.empty()
            ? model::ClipTime(index.fileTimes(),
                              model::slowdown(index.fileRate(), clip.captureRate.value_or(0.0)))
            : model::ClipTime(index.fileTimes(), clip.speeds);
}

} // namespace

struct Session::Open {
    model::Player player;
    model::Clip clip;
    model::Rep rep;
    const technique::Pack* pack = nullptr;
    film::FilmIndex index;
    technique::Circumstances circumstances;
    coaching::Review review;
    int frame = 0;
    std::unique_ptr<film::FrameServer> server;
};

Session::Session(const std::filesystem::path& libraryFolder,
                 const std::filesystem::path& packFolder)
    : library_(libraryFolder),
      packs_(technique::loadPacks(packFolder)),
      drills_(coaching::loadDrills(packFolder)),
      cache_(std::make_shared<film::FrameCache>(film::FrameServer::defaultCacheBytes)) {
    for (const technique::Pack& pack : packs_) {
        coaching::checkDrills(pack, drills_);
    }
}

Session::~Session() = default;

const model::Player& Session::player() const {
    return open_->player;
}
const model::Clip& Session::clip() const {
    return open_->clip;
}
const model::Rep& Session::rep() const {
    return open_->rep;
}
const technique::Pack& Session::pack() const {
    return *open_->pack;
}
const film::FilmIndex& Session::index() const {
    return open_->index;
}
const technique::Circumstances& Session::circumstances() const {
    return open_->circumstances;
}
const coaching::Review& Session::review() const {
    return open_->review;
}
int Session::frame() const {
    return open_->frame;
}

QImage Session::picture(int frame) const {
    return report::imageOf(open_->server->cached(frame));
}

QImage Session::nearestPicture(int frame) const {
    return report::imageOf(open_->server->nearestCached(frame).second);
}

bool Session::captureRateMissing() const {
    return !open_->clip.captureRate;
}

const technique::Pack& Session::packOf(const model::Rep& rep) const {
    const auto found = std::find_if(packs_.begin(), packs_.end(), [&](const technique::Pack& p) {
        return p.id == rep.techniqueId;
    });
    return found == packs_.end() ? packs_.front() : *found;
}

coaching::Review Session::judged(const model::Player& player, const model::Clip& clip,
                                 const model::Rep& rep) const {
    const technique::Pack& pack = packOf(rep);
    auto known = indices_.find(clip.sha256);
    if (known == indices_.end()) {
        known = indices_.emplace(clip.sha256, film::buildIndex(library_.clipFile(clip))).first;
    }
    const film::FilmIndex& index = known->second;
    technique::Circumstances circumstances =
        coaching::circumstancesOf(player, clip, rep, {}, today());
    setTime(circumstances, index, clip);
    return coaching::reviewOf(pack, rep, circumstances, library_.planChoice(rep.id));
}

void Session::openClip(model::Id clipId) {
    const auto clip = library_.clip(clipId);
    if (!clip) {
        return;
    }
    opening_ = clipId;
    const std::filesystem::path file = library_.clipFile(*clip);
    inBackground(
        this, [file] { return film::buildIndex(file); },
        [this, clipId](film::FilmIndex index) {
            if (opening_ != clipId) {
                return; // another clip was asked for meanwhile
            }
            auto open = std::make_unique<Open>();
            open->index = std::move(index);
            open->clip = *library_.clip(clipId);
            open->player = *library_.player(open->clip.playerId);
            open->rep = library_.reps(clipId).front();
            open->pack = &packOf(open->rep);
            // A film that cannot be slow motion needs no question: the camera took what it plays.
            if (!open->clip.captureRate && !film::captureRateInDoubt(open->index)) {
                open->clip.captureRate = open->index.fileRate();
                library_.save(open->clip);
            }
            open_ = std::move(open);
            open_->server = std::make_unique<film::FrameServer>(
                open_->index,
                [this](int frame, const film::PicturePtr&, const std::string& trouble) {
                    QMetaObject::invokeMethod(
                        this,
                        [this, frame, trouble] {
                            if (!trouble.empty()) {
                                emit problem(QString::fromStdString(trouble),
                                             tr("All marks are safe."),
                                             tr("Step to a neighbouring frame."));
                            }
                            emit pictureReady(frame);
                        },
                        Qt::QueuedConnection);
                },
                cache_);
            judge();
            library_.setSetting("open_clip", std::to_string(clipId));
            emit clipOpened();
            const std::string key = "frame_of_clip_" + std::to_string(clipId);
            goTo(QString::fromStdString(library_.setting(key)).toInt());
        },
        [this](const std::exception_ptr& error) { report(error); });
}

void Session::report(const std::exception_ptr& error) {
    try {
        std::rethrow_exception(error);
    } catch (const model::InputError& e) {
        emit problem(QString::fromStdString(e.happened()), QString::fromStdString(e.safe()),
                     QString::fromStdString(e.todo()));
    } catch (const std::exception& e) {
        emit problem(tr("Something went wrong inside the program (%1).").arg(e.what()),
                     tr("Everything in the library is safe."), tr("Try again."));
    }
}

void Session::goTo(int frame) {
    if (!open_) {
        return;
    }
    open_->frame = std::clamp(frame, 0, open_->index.frameCount() - 1);
    open_->server->want(open_->frame);
    emit frameChanged(open_->frame);
}

void Session::judge() {
    open_->circumstances =
        coaching::circumstancesOf(open_->player, open_->clip, open_->rep, {}, today());
    setTime(open_->circumstances, open_->index, open_->clip);
    open_->review = coaching::reviewOf(*open_->pack, open_->rep, open_->circumstances,
                                       library_.planChoice(open_->rep.id));
    std::set<int> keyFrames;
    for (const auto& [position, frame] : open_->rep.positions) {
        keyFrames.insert(frame);
    }
    open_->server->keepAlways(std::move(keyFrames));
}

void Session::refresh() {
    if (open_) {
        open_->clip = *library_.clip(open_->clip.id);
        open_->player = *library_.player(open_->clip.playerId);
        open_->rep = *library_.rep(open_->rep.id);
        judge();
    }
    emit marksChanged();
}

void Session::edit(const QString& name, std::function<void()> apply, std::function<void()> revert,
                   int joinId) {
    const auto andRefresh = [this](std::function<void()> change) {
        return [this, change = std::move(change)] {
            try {
                change();
            } catch (...) {
                report(std::current_exception());
            }
            refresh();
        };
    };
    undo_.push(new Edit(name, andRefresh(std::move(apply)), andRefresh(std::move(revert)), joinId));
    rememberPlace(); // with every edit, so that a crash loses at most the last one
}

void Session::rememberPlace() {
    if (open_) {
        library_.setSetting("frame_of_clip_" + std::to_string(open_->clip.id),
                            std::to_string(open_->frame));
    }
}

void Session::setPosition(const std::string& positionId, std::optional<int> frame) {
    const model::Id rep = open_->rep.id;
    const auto before = open_->rep.positions.find(positionId);
    const std::optional<int> old =
        before == open_->rep.positions.end() ? std::nullopt : std::optional(before->second);
    if (old == frame) {
        return;
    }
    const QString position =
        QString::fromStdString(technique::findPosition(*open_->pack, positionId)->name);
    edit(
        frame ? tr("Set %1 to frame %2").arg(position).arg(*frame) : tr("Clear %1").arg(position),
        [=, this] { library_.setPosition(rep, positionId, frame); },
        [=, this] { library_.setPosition(rep, positionId, old); });
}

void Session::setLandmark(int frame, model::Landmark landmark,
                          const std::optional<model::LandmarkPoint>& point, const QString& what,
                          bool joins) {
    const model::Id rep = open_->rep.id;
    const model::LandmarkPoint* before = model::find(open_->rep.landmarks, frame, landmark);
    const std::optional<model::LandmarkPoint> old = before ? std::optional(*before) : std::nullopt;
    edit(
        tr("%1, frame %2").arg(what).arg(frame),
        [=, this] { library_.setLandmark(rep, frame, landmark, point); },
        [=, this] { library_.setLandmark(rep, frame, landmark, old); },
        joins ? static_cast<int>(landmark) : -1);
}

void Session::setObservation(const std::string& id, std::optional<model::Seen> seen) {
    const model::Id rep = open_->rep.id;
    const auto before = open_->rep.observations.find(id);
    const std::optional<model::Seen> old =
        before == open_->rep.observations.end() ? std::nullopt : std::optional(before->second);
    if (old == seen) {
        return;
    }
    edit(
        tr("Answer “%1”")
            .arg(QString::fromStdString(technique::findObservation(*open_->pack, id)->question)),
        [=, this] { library_.setObservation(rep, id, seen); },
        [=, this] { library_.setObservation(rep, id, old); });
}

void Session::setPlanChoice(const model::PlanChoice& choice, const QString& what) {
    const model::Id rep = open_->rep.id;
    const model::PlanChoice old = library_.planChoice(rep);
    if (old == choice) {
        return;
    }
    edit(
        what, [=, this] { library_.save(rep, choice); }, [=, this] { library_.save(rep, old); });
}

void Session::setClip(const model::Clip& clip, const QString& what) {
    const model::Clip old = *library_.clip(clip.id);
    if (old == clip) {
        return;
    }
    const auto store = [this](const model::Clip& c) {
        library_.save(c);
        emit recordsChanged();
    };
    edit(
        what, [=] { store(clip); }, [=] { store(old); });
}

void Session::setVariant(const std::string& variant) {
    const model::Rep old = open_->rep;
    if (old.variant == variant) {
        return;
    }
    const auto store = [this, id = old.id](const std::string& v) {
        model::Rep rep = *library_.rep(id);
        rep.variant = v;
        library_.save(rep);
    };
    edit(
        tr("Change the start type"), [=] { store(variant); }, [=] { store(old.variant); });
}

void Session::setPlayer(const model::Player& player, const QString& what) {
    const model::Player old = *library_.player(player.id);
    if (old == player) {
        return;
    }
    const auto store = [this](const model::Player& p) {
        library_.save(p);
        emit recordsChanged();
    };
    edit(
        what, [=] { store(player); }, [=] { store(old); });
}

model::Id Session::addPlayer(const model::Player& player) {
    auto id = std::make_shared<model::Id>(0);
    edit(
        tr("Add %1").arg(QString::fromStdString(player.name)),
        [=, this] {
            model::Player stored = player;
            stored.id = *id; // the same number again after undo and redo
            *id = library_.save(stored);
            emit recordsChanged();
        },
        [=, this] {
            library_.removePlayer(*id);
            emit recordsChanged();
        });
    return *id;
}

void Session::addFilm(model::Id playerId, const records::StoredFilm& film, const std::string& title,
                      const std::string& techniqueId) {
    if (const auto known = library_.clipByHash(playerId, film.sha256)) {
        openClip(known->id); // this player has this very film
        return;
    }
    auto id = std::make_shared<model::Id>(0);
    edit(
        tr("Bring in %1").arg(QString::fromStdString(title)),
        [=, this] {
            *id = records::addClip(library_, playerId, film, title, techniqueId).id;
            emit recordsChanged();
            openClip(*id);
        },
        [=, this] {
            if (open_ && open_->clip.id == *id) {
                open_.reset();
                emit clipClosed();
            }
            library_.removeClip(*id);
            emit recordsChanged();
        });
}

} // namespace kestrel::app
