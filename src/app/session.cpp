#include "app/session.h"

#include "app/background.h"
#include "app/session_open.h"
#include "film/rep_finder.h"
#include "model/input_error.h"
#include "prepare/circumstances.h"
#include "report/picture_image.h"
#include "track/film_study.h"

#include <QCoreApplication>
#include <QDate>
#include <QPointer>
#include <QThreadPool>
#include <QUndoCommand>

#include <algorithm>
#include <atomic>

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

} // namespace

/// The first pass over a film, shared with the thread that makes it.
struct Session::Study {
    std::atomic<bool> cancelled = false;
};

Session::Session(const std::filesystem::path& libraryFolder,
                 const std::filesystem::path& packFolder)
    : library_(libraryFolder),
      packFolder_(packFolder),
      shipped_(technique::loadPacks(packFolder)),
      shippedDrills_(coaching::loadDrills(packFolder)),
      drills_(shippedDrills_),
      loadRule_(coaching::exampleLoadRule(packFolder)),
      cache_(std::make_shared<film::FrameCache>(film::FrameServer::bytesForFrames)) {
    for (const technique::Pack& pack : shipped_) {
        coaching::checkDrills(pack, drills_);
    }
    loadPacks();
}

Session::~Session() {
    stopPreparing();
    cancelProposing();
    if (studying_) {
        studying_->cancelled = true;
    }
    // Jobs under way, such as a sheet being drawn or saved, need the application: they end before
    // it does.
    QThreadPool::globalInstance()->waitForDone();
}

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
    return !open_->clip.captureRate && open_->clip.speeds.empty();
}

const std::vector<model::Rep>& Session::reps() const {
    return open_->reps;
}

const std::optional<model::FilmStudy>& Session::study() const {
    return open_->study;
}

std::vector<model::FrameSpan> Session::proposedReps() const {
    // A rep over the whole clip that has marks takes all of it.
    const bool taken = std::any_of(open_->reps.begin(), open_->reps.end(), [](const model::Rep& r) {
        return !r.span && (!r.positions.empty() || !r.landmarks.empty());
    });
    if (!open_->study || taken) {
        return {};
    }
    std::vector<model::FrameSpan> spans =
        film::findReps(open_->study->energy, open_->circumstances.time);
    std::erase_if(spans, [&](const model::FrameSpan& span) {
        return std::any_of(open_->reps.begin(), open_->reps.end(), [&](const model::Rep& rep) {
            return rep.span && rep.span->first <= span.last && rep.span->last >= span.first;
        });
    });
    return spans;
}

const film::FilmIndex& Session::indexOf(const model::Clip& clip) const {
    auto known = indices_.find(clip.sha256);
    if (known == indices_.end()) {
        known = indices_.emplace(clip.sha256, film::buildIndex(library_.clipFile(clip))).first;
    }
    return known->second;
}

technique::Circumstances Session::circumstancesOf(const model::Player& player,
                                                  const model::Clip& clip,
                                                  const model::Rep& rep) const {
    technique::Circumstances circumstances = prepare::circumstancesOf(
        packOf(rep), player, clip, rep, prepare::readAsTheClipSays(clip, indexOf(clip)),
        clip.steadied ? library_.study(clip.id) : std::nullopt, today());
    addSecondView(clip, rep, circumstances);
    return circumstances;
}

coaching::Review Session::judged(const model::Player& player, const model::Clip& clip,
                                 const model::Rep& rep) const {
    return coaching::reviewOf(packOf(rep), rep, circumstancesOf(player, clip, rep));
}

coaching::TimedCourse Session::courseOf(const model::Player& player, const model::Clip& clip,
                                        const model::Rep& rep, const std::string& measureId) const {
    coaching::TimedCourse timed;
    const technique::Pack& pack = packOf(rep);
    const technique::Circumstances circumstances = circumstancesOf(player, clip, rep);
    const technique::Measure* measure = technique::findMeasure(pack, measureId);
    if (measure == nullptr) {
        return timed;
    }
    for (const auto& [position, frame] : model::allPositions(rep)) {
        timed.positions[position] =
            circumstances.time.fieldTimes()[static_cast<std::size_t>(frame)].value;
    }
    timed.course = technique::courseOfMeasure(
        pack, rep, circumstances, *measure,
        rep.span.value_or(model::FrameSpan{0, circumstances.time.frameCount() - 1}));
    return timed;
}

void Session::openClip(model::Id clipId) {
    const auto clip = library_.clip(clipId);
    if (!clip) {
        return;
    }
    opening_ = clipId;
    struct Opened {
        records::FilmLook look;
        film::FilmIndex index;
    };
    inBackground(
        this,
        [file = library_.clipFile(*clip), folder = library_.clipFolder(), clip = *clip,
         stamp = library_.stamp(clip->fileName)] {
            Opened opened;
            opened.look = records::lookAtFilm(file, clip, stamp);
            if (opened.look.state != records::FilmState::present && stamp) {
                // Back from where it was brought in, if it still lies there.
                const auto copy = records::findFilm(clip, stamp->bytes, {});
                if (copy && records::restoreFilm(*copy, clip, folder)) {
                    opened.look = records::lookAtFilm(file, clip, std::nullopt);
                }
            }
            if (opened.look.state == records::FilmState::present) {
                opened.index = film::buildIndex(file);
            }
            return opened;
        },
        [this, clip = *clip](Opened opened) {
            if (opening_ != clip.id) {
                return; // another clip was asked for meanwhile
            }
            if (opened.look.state != records::FilmState::present) {
                emit filmLost(clip.id, opened.look.state == records::FilmState::changed);
                return;
            }
            library_.setStamp(clip.fileName, opened.look.stamp);
            auto open = std::make_unique<Open>();
            open->index = std::move(opened.index);
            open->clip = *library_.clip(clip.id);
            show(std::move(open));
        },
        [this](const std::exception_ptr& error) { report(error); });
}

void Session::show(std::unique_ptr<Open> open) {
    const model::Id clipId = open->clip.id;
    open->player = *library_.player(open->clip.playerId);
    open->reps = library_.reps(clipId);
    const model::Id lastRep =
        QString::fromStdString(library_.setting("rep_of_clip_" + std::to_string(clipId)))
            .toLongLong();
    const auto found = std::find_if(open->reps.begin(), open->reps.end(),
                                    [&](const model::Rep& rep) { return rep.id == lastRep; });
    open->rep = found == open->reps.end() ? open->reps.front() : *found;
    open->pack = &packOf(open->rep);
    open->study = library_.study(clipId);
    const bool rateWasKnown = open->clip.captureRate.has_value();
    prepare::settleCaptureRate(open->clip, open->index);
    if (!rateWasKnown && open->clip.captureRate) {
        library_.save(open->clip);
    }
    cancelProposing();
    open_ = std::move(open);
    readAsTheClipSays();
    startServer();
    judge();
    library_.setSetting("open_clip", std::to_string(clipId));
    emit clipOpened();
    goTo(QString::fromStdString(library_.setting("frame_of_clip_" + std::to_string(clipId)))
             .toInt());
    startStudy();
}

void Session::readAsTheClipSays() {
    open_->index = prepare::readAsTheClipSays(open_->clip, open_->index);
}

void Session::startServer() {
    open_->server.reset(); // leaves the cache before the next one joins
    open_->server = std::make_unique<film::FrameServer>(
        open_->index,
        [this](int frame, const film::PicturePtr&, const std::string& trouble) {
            QMetaObject::invokeMethod(
                this,
                [this, frame, trouble] {
                    if (!trouble.empty()) {
                        emit problem(QString::fromStdString(trouble), tr("All marks are safe."),
                                     tr("Step to a neighbouring frame."));
                    }
                    emit pictureReady(frame);
                },
                Qt::QueuedConnection);
        },
        cache_);
}

void Session::startStudy() {
    if (studying_) {
        studying_->cancelled = true;
        studying_.reset();
    }
    if (open_->study) {
        emit studyProgress(1.0);
        return;
    }
    auto study = std::make_shared<Study>();
    studying_ = study;
    const QPointer<Session> guard(this);
    const auto tell = [guard, study, count = open_->index.frameCount()](int frame) {
        constexpr int every = 16; // frames between two reports
        if (frame % every == 0) {
            QMetaObject::invokeMethod(
                QCoreApplication::instance(),
                [guard, study, share = static_cast<double>(frame) / count] {
                    if (guard && guard->studying_ == study) {
                        emit guard->studyProgress(share);
                    }
                },
                Qt::QueuedConnection);
        }
        return !study->cancelled.load();
    };
    inBackground(
        this, [index = open_->index, tell] { return track::studyFilm(index, tell); },
        [this, study, clipId = open_->clip.id](const std::optional<model::FilmStudy>& found) {
            if (!found || studying_ != study) {
                return;
            }
            studying_.reset();
            library_.save(clipId, *found);
            open_->study = found;
            judge();
            emit studyProgress(1.0);
            emit marksChanged();
        },
        [this](const std::exception_ptr& error) { report(error); });
}

void Session::openRep(model::Id repId) {
    const auto found = std::find_if(open_->reps.begin(), open_->reps.end(),
                                    [&](const model::Rep& rep) { return rep.id == repId; });
    if (found == open_->reps.end() || repId == open_->rep.id) {
        return;
    }
    open_->rep = *found;
    open_->pack = &packOf(open_->rep);
    open_->changes.clear();
    library_.setSetting("rep_of_clip_" + std::to_string(open_->clip.id), std::to_string(repId));
    judge();
    emit repOpened();
    emit marksChanged();
    if (open_->rep.span && !open_->rep.span->contains(open_->frame)) {
        goTo(open_->rep.span->first);
    }
}

void Session::restoreFilm(model::Id clipId, const std::filesystem::path& from) {
    const auto clip = library_.clip(clipId);
    if (!clip) {
        return;
    }
    inBackground(
        this,
        [clip = *clip, from, folder = library_.clipFolder(),
         stamp = library_.stamp(clip->fileName)] {
            std::filesystem::path file = from;
            if (std::filesystem::is_directory(from)) {
                const auto found = records::findFilm(clip, stamp ? stamp->bytes : 0, from);
                if (!found) {
                    throw model::InputError(
                        "No file in “" + from.filename().string() + "” is the film of “" +
                            clip.title + "”.",
                        "The clip and its marks are as they were.",
                        "Search another folder, or a disk on which you kept the film.");
                }
                file = *found;
            }
            return records::restoreFilm(file, clip, folder);
        },
        [this, clipId](bool) { openClip(clipId); },
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

void Session::trying(const std::function<void()>& work) {
    try {
        work();
    } catch (...) {
        report(std::current_exception());
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
    keepEdition();
    open_->circumstances = prepare::circumstancesOf(pack(), open_->player, open_->clip, open_->rep,
                                                    open_->index, open_->study, today());
    addSecondView(open_->clip, open_->rep, open_->circumstances);
    open_->review = coaching::reviewOf(*open_->pack, open_->rep, open_->circumstances);
    visitReview_.reset();
    std::set<int> keyFrames;
    for (const auto& [position, frame] : model::allPositions(open_->rep)) {
        keyFrames.insert(frame);
    }
    open_->server->keepAlways(std::move(keyFrames));
}

void Session::refresh() {
    if (open_) {
        const bool asFields = open_->clip.asFields;
        const technique::Pack* const pack = open_->pack;
        open_->clip = *library_.clip(open_->clip.id);
        open_->player = *library_.player(open_->clip.playerId);
        open_->reps = library_.reps(open_->clip.id);
        const model::Id rep = open_->rep.id;
        const coaching::Review before = open_->review;
        const std::set<std::string> schools = open_->circumstances.schools;
        const auto found = std::find_if(open_->reps.begin(), open_->reps.end(),
                                        [&](const model::Rep& r) { return r.id == rep; });
        open_->rep = found == open_->reps.end() ? open_->reps.front() : *found;
        open_->pack = &packOf(open_->rep);
        if (asFields != open_->clip.asFields) {
            const int frame = open_->clip.asFields ? open_->frame * 2 : open_->frame / 2;
            open_->study.reset();
            readAsTheClipSays();
            startServer();
            judge();
            emit clipOpened();
            goTo(frame);
            startStudy();
        } else {
            judge();
        }
        open_->changes.clear();
        if (open_->rep.id == rep && open_->pack->id == pack->id &&
            (open_->pack != pack || open_->circumstances.schools != schools)) {
            open_->changes = coaching::changesBetween(before, open_->review);
        }
        if (open_->pack != pack) {
            emit clipOpened(); // other positions, other landmarks
        } else if (open_->rep.id != rep) {
            emit repOpened();
        }
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

} // namespace kestrel::app
