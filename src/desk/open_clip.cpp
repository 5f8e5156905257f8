#include "desk/open_clip.h"

#include "film/rep_finder.h"
#include "model/input_error.h"
#include "prepare/circumstances.h"
#include "records/clip_store.h"
#include "report/picture_image.h"
#include "track/camera/film_study.h"

#include <algorithm>

namespace kestrel::desk {

struct OpenClip::Open {
    model::Player player;
    model::Clip clip;
    std::vector<model::Rep> reps;
    model::Rep rep;
    std::optional<model::FilmStudy> study;
    const technique::Pack* pack = nullptr;
    film::FilmIndex index;
    std::shared_ptr<const prepare::JudgedRep> judged;
    std::vector<coaching::Change> changes;
    int frame = 0;
    std::unique_ptr<film::FrameServer> server;
};

OpenClip::OpenClip(records::Library& library, const Shelf& shelf, FilmIndices& films,
                   const Judging& judging, EditStack& edits, Settings& settings, Problems& problems)
    : library_(library),
      shelf_(shelf),
      films_(films),
      judging_(judging),
      settings_(settings),
      problems_(problems),
      cache_(std::make_shared<film::FrameCache>(film::FrameServer::bytesForFrames)) {
    connect(&edits, &EditStack::changed, this, [this] {
        problems_.trying([&] { readAnew(); });
        rememberPlace(); // with every edit, so that a crash loses at most the last one
    });
    connect(&edits, &EditStack::refused, this, [this] { problems_.trying([&] { readAnew(); }); });
    connect(&films_, &FilmIndices::more, this, [this] {
        problems_.trying([&] {
            if (open_ && library_.pairOf(open_->clip.id)) {
                judgeAnew(); // the clip's other film may have become known
            }
        });
    });
}

OpenClip::~OpenClip() {
    studying_.cancel();
}

const model::Player& OpenClip::player() const {
    return open_->player;
}

const model::Clip& OpenClip::clip() const {
    return open_->clip;
}

const std::vector<model::Rep>& OpenClip::reps() const {
    return open_->reps;
}

const model::Rep& OpenClip::rep() const {
    return open_->rep;
}

model::FrameSpan OpenClip::repSpan() const {
    return open_->rep.span.value_or(model::FrameSpan{0, open_->index.frameCount() - 1});
}

const technique::Pack& OpenClip::pack() const {
    return *open_->pack;
}

const film::FilmIndex& OpenClip::index() const {
    return open_->index;
}

const prepare::JudgedRep& OpenClip::judged() const {
    return *open_->judged;
}

const technique::Circumstances& OpenClip::circumstances() const {
    return open_->judged->circumstances;
}

const coaching::Review& OpenClip::review() const {
    return open_->judged->review;
}

int OpenClip::frame() const {
    return open_->frame;
}

QImage OpenClip::picture(int frame) const {
    return report::imageOf(open_->server->cached(frame));
}

QImage OpenClip::nearestPicture(int frame) const {
    return report::imageOf(open_->server->nearestCached(frame).second);
}

bool OpenClip::captureRateMissing() const {
    return !open_->clip.captureRate && open_->clip.speeds.empty();
}

const std::optional<model::FilmStudy>& OpenClip::study() const {
    return open_->study;
}

std::vector<model::FrameSpan> OpenClip::proposedReps() const {
    // A rep over the whole clip that has marks takes all of it.
    const bool taken = std::any_of(open_->reps.begin(), open_->reps.end(), [](const model::Rep& r) {
        return !r.span && (!r.positions.empty() || !r.landmarks.empty());
    });
    if (!open_->study || taken) {
        return {};
    }
    std::vector<model::FrameSpan> spans = film::findReps(*open_->study, circumstances().time);
    std::erase_if(spans, [&](const model::FrameSpan& span) {
        return std::any_of(open_->reps.begin(), open_->reps.end(), [&](const model::Rep& rep) {
            return rep.span && rep.span->first <= span.last && rep.span->last >= span.first;
        });
    });
    return spans;
}

const std::vector<coaching::Change>& OpenClip::changes() const {
    return open_->changes;
}

void OpenClip::open(model::ClipId clipId) {
    const auto clip = library_.clip(clipId);
    if (!clip) {
        return;
    }
    opening_ = clipId;
    struct Found {
        records::FilmLook look;
        film::FilmIndex index;
    };
    runJob(
        this,
        [file = library_.clipFile(*clip), folder = library_.clipFolder(), clip = *clip,
         stamp = library_.stamp(clip->fileName)](const TellShare&) {
            Found found;
            found.look = records::lookAtFilm(file, clip, stamp);
            if (found.look.state != records::FilmState::present && stamp) {
                // Back from where it was brought in, if it still lies there.
                const auto copy = records::findFilm(clip, stamp->bytes, {});
                if (copy && records::restoreFilm(*copy, clip, folder)) {
                    found.look = records::lookAtFilm(file, clip, std::nullopt);
                }
            }
            if (found.look.state == records::FilmState::present) {
                found.index = film::buildIndex(file);
            }
            return found;
        },
        [this, clip = *clip](Found found) {
            if (opening_ != clip.id) {
                return; // another clip was asked for meanwhile
            }
            films_.tryAgain(clip);
            if (found.look.state != records::FilmState::present) {
                emit lost(clip.id, found.look.state == records::FilmState::changed);
                return;
            }
            problems_.trying([&] {
                if (!library_.clip(clip.id)) {
                    return; // taken back meanwhile
                }
                library_.setStamp(clip.fileName, found.look.stamp);
                films_.keep(clip, found.index);
                auto open = std::make_unique<Open>();
                open->index = std::move(found.index);
                open->clip = clip;
                show(std::move(open));
            });
        },
        [this](const std::exception_ptr& error) { problems_.tell(error); });
}

void OpenClip::show(std::unique_ptr<Open> open) {
    const model::ClipId clipId = open->clip.id;
    const model::RepId lastRep(
        QString::fromStdString(settings_.get("rep_of_clip_" + std::to_string(clipId.value)))
            .toLongLong());
    open->rep.id = lastRep;
    open->study = library_.study(clipId);
    model::Clip said = *library_.clip(clipId);
    const bool rateWasKnown = said.captureRate.has_value();
    prepare::settleCaptureRate(said, open->index);
    if (!rateWasKnown && said.captureRate) {
        library_.save(said);
    }
    studying_.cancel();
    open_ = std::move(open);
    read();
    open_->index = prepare::readAsTheClipSays(open_->clip, open_->index);
    startServer();
    judge();
    settings_.set("open_clip", std::to_string(clipId.value));
    emit opened();
    goTo(QString::fromStdString(settings_.get("frame_of_clip_" + std::to_string(clipId.value)))
             .toInt());
    startStudy();
}

void OpenClip::close() {
    opening_ = {};
    studying_.cancel();
    open_.reset();
    emit closed();
}

void OpenClip::startServer() {
    open_->server.reset(); // leaves the cache before the next one joins
    open_->server = std::make_unique<film::FrameServer>(
        open_->index,
        // Called on the server's own thread, which ends before this object does.
        [this](int frame, const film::PicturePtr&, const std::exception_ptr& trouble) {
            QMetaObject::invokeMethod(
                this,
                [this, frame, trouble] {
                    if (trouble) {
                        problems_.tell(trouble);
                    }
                    emit pictureReady(frame);
                },
                Qt::QueuedConnection);
        },
        cache_);
}

void OpenClip::startStudy() {
    studying_.cancel();
    if (open_->study) {
        emit studyProgress(1.0);
        return;
    }
    studying_ = runJob(
        this,
        [index = open_->index](const TellShare& tell) {
            return track::studyFilm(index, [&](int frame) {
                return tell(static_cast<double>(frame) / index.frameCount());
            });
        },
        [this, clipId = open_->clip.id](const std::optional<model::FilmStudy>& found) {
            if (!found || !open_ || open_->clip.id != clipId) {
                return;
            }
            problems_.trying([&] {
                library_.save(clipId, *found);
                open_->study = found;
                judge();
            });
            emit studyProgress(1.0);
            emit marksChanged();
        },
        [this](const std::exception_ptr& error) { problems_.tell(error); },
        [this](double share) { emit studyProgress(share); });
}

void OpenClip::openRep(model::RepId repId) {
    const auto found = std::find_if(open_->reps.begin(), open_->reps.end(),
                                    [&](const model::Rep& rep) { return rep.id == repId; });
    if (found == open_->reps.end() || repId == open_->rep.id) {
        return;
    }
    problems_.trying([&] {
        open_->rep = *found;
        open_->pack = &shelf_.packOf(open_->rep);
        open_->changes.clear();
        judge();
    });
    settings_.set("rep_of_clip_" + std::to_string(open_->clip.id.value),
                  std::to_string(repId.value));
    emit repOpened();
    emit marksChanged();
    if (open_->rep.span && !open_->rep.span->contains(open_->frame)) {
        goTo(open_->rep.span->first);
    }
}

void OpenClip::restoreFilm(model::ClipId clipId, const std::filesystem::path& from) {
    const auto clip = library_.clip(clipId);
    if (!clip) {
        return;
    }
    runJob(
        this,
        [clip = *clip, from, folder = library_.clipFolder(),
         stamp = library_.stamp(clip->fileName)](const TellShare& tell) {
            const auto goOn = [&](std::uintmax_t, std::uintmax_t) { return tell(0.0); };
            std::filesystem::path file = from;
            if (std::filesystem::is_directory(from)) {
                const auto found = records::findFilm(clip, stamp ? stamp->bytes : 0, from, goOn);
                if (!found) {
                    throw model::InputError(model::message("library.film_not_found",
                                                           from.filename().string(), clip.title),
                                            model::message("safe.clip_as_it_was"),
                                            model::message("todo.search_elsewhere"));
                }
                file = *found;
            }
            return records::restoreFilm(file, clip, folder, goOn);
        },
        [this, clipId](bool) { open(clipId); },
        [this](const std::exception_ptr& error) { problems_.tell(error); });
}

void OpenClip::goTo(int frame) {
    if (!open_) {
        return;
    }
    open_->frame = std::clamp(frame, 0, open_->index.frameCount() - 1);
    open_->server->want(open_->frame);
    emit frameChanged(open_->frame);
}

void OpenClip::keepEdition() {
    if (open_->rep.packEdition.stored() || open_->rep.positions.empty() ||
        open_->rep.techniqueId != open_->pack->id) {
        return;
    }
    open_->rep.packEdition = library_.keepEdition(open_->pack->id, open_->pack->text);
    library_.setEdition(open_->rep.id, open_->rep.packEdition);
    const auto same = std::find_if(open_->reps.begin(), open_->reps.end(),
                                   [&](const model::Rep& r) { return r.id == open_->rep.id; });
    same->packEdition = open_->rep.packEdition;
}

void OpenClip::judge() {
    problems_.trying([&] { keepEdition(); });
    open_->judged = judging_.of(open_->player, open_->clip, open_->rep);
    std::set<int> keyFrames;
    for (const auto& [position, frame] : model::allPositions(open_->rep)) {
        keyFrames.insert(frame);
    }
    open_->server->keepAlways(keyFrames);
}

bool OpenClip::read() {
    const auto clip = library_.clip(open_->clip.id);
    if (!clip) {
        return false;
    }
    open_->clip = *clip;
    open_->player = *library_.player(clip->playerId);
    open_->reps = library_.reps(clip->id);
    const auto found = std::find_if(open_->reps.begin(), open_->reps.end(),
                                    [&](const model::Rep& r) { return r.id == open_->rep.id; });
    open_->rep = found == open_->reps.end() ? open_->reps.front() : *found;
    open_->pack = &shelf_.packOf(open_->rep);
    return true;
}

void OpenClip::readAnew() {
    if (!open_) {
        emit marksChanged();
        return;
    }
    const bool asFields = open_->clip.asFields;
    const technique::Pack* const pack = open_->pack;
    const model::RepId rep = open_->rep.id;
    const coaching::Review before = review();
    const std::set<std::string> schools = circumstances().schools;
    if (!read()) {
        close(); // its bringing in was taken back
        emit marksChanged();
        return;
    }
    if (asFields != open_->clip.asFields) {
        const int frame = open_->clip.asFields ? open_->frame * 2 : open_->frame / 2;
        open_->study.reset();
        open_->index = prepare::readAsTheClipSays(open_->clip, open_->index);
        startServer();
        judge();
        emit opened();
        goTo(frame);
        startStudy();
    } else {
        judge();
    }
    open_->changes.clear();
    if (open_->rep.id == rep && open_->pack->id == pack->id &&
        (open_->pack != pack || circumstances().schools != schools)) {
        open_->changes = coaching::changesBetween(before, review());
    }
    if (open_->pack != pack) {
        emit opened(); // other positions, other landmarks
    } else if (open_->rep.id != rep) {
        emit repOpened();
    }
    emit marksChanged();
}

void OpenClip::judgeAnew() {
    if (open_) {
        judge();
        emit marksChanged();
    }
}

void OpenClip::rememberPlace() {
    if (open_) {
        settings_.set("frame_of_clip_" + std::to_string(open_->clip.id.value),
                      std::to_string(open_->frame));
    }
}

} // namespace kestrel::desk
