#include "desk/comparison.h"

#include "prepare/circumstances.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace kestrel::desk {
namespace {

using Why = Comparison::Candidate::Why;
using Judged = std::shared_ptr<const prepare::JudgedRep>;

model::RepId repOf(const Comparison::Candidate& candidate) {
    return candidate.judged ? candidate.judged->rep.id : prepare::poseModelRep;
}

/// The time of a frame on the field.
model::Seconds timeOf(const prepare::JudgedRep& rep, int frame) {
    return rep.circumstances.time.fieldTimes().at(static_cast<std::size_t>(frame));
}

/// The time of a position, where its frame is one of the film's.
std::optional<model::Seconds> timeOfPosition(const prepare::JudgedRep& rep,
                                             const std::string& position) {
    const auto frame = model::frameOf(rep.rep, position);
    const bool there = frame && *frame >= 0 && *frame < rep.circumstances.time.frameCount();
    return there ? std::optional(timeOf(rep, *frame)) : std::nullopt;
}

/// The frame nearest to a time, if the film shows that time at all.
std::optional<int> frameNearest(const model::ClipTime& time, model::Seconds wanted) {
    const int last = time.frameCount() - 1;
    if (last < 0) {
        return std::nullopt;
    }
    const auto& times = time.fieldTimes();
    constexpr double half = 0.5;
    const double before = half * model::frameInterval(time, 0).value;
    const double after = half * model::frameInterval(time, last).value;
    if (wanted.value < times.front().value - before || wanted.value > times.back().value + after) {
        return std::nullopt;
    }
    const int frame = model::frameAtFieldTime(time, wanted);
    if (frame == last) {
        return last;
    }
    const auto at = [&](int f) {
        return std::abs(times[static_cast<std::size_t>(f)].value - wanted.value);
    };
    return at(frame + 1) < at(frame) ? frame + 1 : frame;
}

/// The best of some reps that are judged and have key positions; null without any.
Judged bestOf(const std::vector<Judged>& reps, model::RepId without = {}) {
    Judged best;
    for (const Judged& rep : reps) {
        const bool counts =
            !rep->notJudged && rep->rep.id != without && !model::allPositions(rep->rep).empty();
        if (counts && (!best || coaching::isBetter(rep->review, best->review))) {
            best = rep;
        }
    }
    return best;
}

} // namespace

Comparison::Comparison(const records::Library& library, OpenClip& open, OpenVisit& visit,
                       const Judging& judging, FilmIndices& films, Problems& problems,
                       model::Clock clock)
    : library_(library),
      open_(open),
      visit_(visit),
      judging_(judging),
      films_(films),
      problems_(problems),
      clock_(std::move(clock)) {
    for (const auto signal :
         {&OpenClip::opened, &OpenClip::repOpened, &OpenClip::closed, &OpenClip::marksChanged}) {
        connect(&open_, signal, this, [this] { refresh(); });
    }
    connect(&films_, &FilmIndices::more, this, [this] { refresh(); });
    connect(&open_, &OpenClip::frameChanged, this, [this] { wantPicture(); });
}

void Comparison::setWatched(bool watched) {
    watched_ = watched;
    if (watched_ && stale_) {
        refresh();
    }
}

void Comparison::refresh() {
    stale_ = true;
    if (!watched_) {
        return;
    }
    problems_.trying([&] {
        stale_ = false;
        const bool another = !open_.hasClip() || open_.rep().id != of_;
        of_ = open_.hasClip() ? open_.rep().id : model::RepId();
        findCandidates();
        if (another) {
            chosen_.reset();
            making_.cancel();
            take(nullptr);
            if (!candidates_.empty()) {
                choose(0);
            }
        } else if (chosen_ && candidates_[*chosen_].judged) {
            take(candidates_[*chosen_].judged);
        } else if (chosen_) {
            choose(*chosen_); // the pose model follows what is known of the open rep
        } else if (!candidates_.empty()) {
            choose(0);
        } else {
            take(nullptr);
        }
    });
}

void Comparison::showBoth() {
    const auto anchor = model::frameOf(open_.rep(), open_.pack().anchor);
    if (warp_ && !otherFrame(open_.frame()) && anchor) {
        open_.goTo(*anchor);
    }
}

void Comparison::findCandidates() {
    const model::RepId stood = chosen_ ? repOf(candidates_[*chosen_]) : model::RepId();
    candidates_.clear();
    if (open_.hasClip() && !open_.judged().notJudged) {
        const model::RepId own = open_.rep().id;
        const Judged best = bestOf(visit_.reps(), own);
        if (best) {
            candidates_.push_back({Why::visitsBest, best});
        }
        const model::VisitKey now = visit_.key();
        std::set<model::Day> days;
        for (const model::Clip& clip : library_.clips(now.playerId)) {
            days.insert(clip.filmed);
        }
        days.erase(now.filmed);
        constexpr std::size_t mostVisits = 8;
        std::size_t visits = 0;
        for (auto day = days.rbegin(); day != days.rend() && visits < mostVisits; ++day) {
            if (const Judged then = bestOf(judging_.visit({now.playerId, *day, now.techniqueId}))) {
                candidates_.push_back({Why::earlierVisit, then});
                ++visits;
            }
        }
        for (const Judged& rep : visit_.reps()) {
            if (rep != best && !rep->notJudged && rep->rep.id != own &&
                !model::allPositions(rep->rep).empty()) {
                candidates_.push_back({Why::ofVisit, rep});
            }
        }
        if (prepare::usualPlayer(open_.pack(), open_.player(), open_.circumstances())) {
            candidates_.push_back({Why::poseModel, nullptr});
        }
    }
    const auto still =
        std::find_if(candidates_.begin(), candidates_.end(),
                     [&](const Candidate& candidate) { return repOf(candidate) == stood; });
    chosen_ = still == candidates_.end()
                  ? std::nullopt
                  : std::optional(static_cast<std::size_t>(still - candidates_.begin()));
    emit candidatesChanged();
}

void Comparison::choose(std::size_t candidate) {
    const bool another = chosen_ != candidate || !other_;
    if (another) {
        nudged_ = 0;
    }
    chosen_ = candidate;
    making_.cancel();
    const Candidate& wanted = candidates_.at(candidate);
    if (wanted.judged) {
        take(wanted.judged);
        if (another) {
            showBoth();
        }
        return;
    }
    making_ = runJob(
        this,
        [rep = open_.judged(), width = open_.index().width, height = open_.index().height,
         today = clock_()](const TellShare&) {
            auto made = prepare::poseModel(rep, width, height, today);
            return made ? std::make_shared<const prepare::PoseModel>(std::move(*made)) : nullptr;
        },
        [this, another](const std::shared_ptr<const prepare::PoseModel>& model) {
            problems_.trying([&] {
                takeModel(model);
                if (another) {
                    showBoth();
                }
            });
        },
        [this](const std::exception_ptr& error) { problems_.tell(error); });
}

void Comparison::takeModel(std::shared_ptr<const prepare::PoseModel> model) {
    if (!model) {
        take(nullptr);
        return;
    }
    const bool asBefore = model_ && model_->film.player == model->film.player &&
                          model_->film.camera == model->film.camera &&
                          model_->film.width == model->film.width;
    if (!asBefore) {
        pictures_ = std::make_unique<OtherPictures>(model);
    }
    otherFilm_.reset();
    model_ = std::move(model);
    other_ = Judged(model_, &model_->judged);
    compare();
}

void Comparison::take(Judged other) {
    const bool sameFilm = other && other_ && !model_ && pictures_ &&
                          other->clip.sha256 == other_->clip.sha256 &&
                          other->clip.asFields == other_->clip.asFields;
    if (!sameFilm) {
        pictures_.reset();
        otherFilm_.reset();
    }
    model_.reset();
    other_ = std::move(other);
    if (other_ && !pictures_) {
        const prepare::KnownFilm film = films_.of(other_->clip);
        if (const auto* index = std::get_if<const film::FilmIndex*>(&film)) {
            otherFilm_ = prepare::readAsTheClipSays(other_->clip, **index);
            pictures_ = std::make_unique<OtherPictures>(*otherFilm_, open_.frameCache());
        } else {
            other_.reset(); // its film went since it was judged
        }
    }
    compare();
}

void Comparison::compare() {
    differences_.clear();
    warp_.reset();
    if (other_) {
        if (pictures_) {
            connect(pictures_.get(), &OtherPictures::ready, this, &Comparison::pictureReady,
                    Qt::UniqueConnection);
        }
        differences_ = coaching::differencesOf(open_.pack(), open_.review().readings,
                                               other_->review.readings, inCommon());
        const auto shared = sharedPositions();
        if (trueTimeFrom_ &&
            std::find(shared.begin(), shared.end(), *trueTimeFrom_) == shared.end()) {
            trueTimeFrom_.reset();
        }
        std::vector<model::TimeWarp::Same> same;
        for (const std::string& position : shared) {
            if (!trueTimeFrom_ || *trueTimeFrom_ == position) {
                same.push_back({*timeOfPosition(open_.judged(), position),
                                *timeOfPosition(*other_, position)});
            }
        }
        if (!same.empty()) {
            warp_.emplace(std::move(same));
        }
    }
    emit changed();
    wantPicture();
}

coaching::InCommon Comparison::inCommon() const {
    if (model_ || other_->player.id != open_.player().id) {
        return coaching::InCommon::nothing;
    }
    return other_->clip.id == open_.clip().id ? coaching::InCommon::film
                                              : coaching::InCommon::player;
}

model::Message Comparison::thanOther() const {
    if (model_) {
        return model::message("differ.than_model");
    }
    if (other_->clip.id == open_.clip().id) {
        return model::message("differ.than_in", other_->rep.title);
    }
    if (other_->clip.filmed == open_.clip().filmed) {
        return model::message("differ.than_in", other_->clip.title);
    }
    return model::message("differ.than_on", other_->clip.filmed);
}

std::vector<std::string> Comparison::sharedPositions() const {
    std::vector<std::string> shared;
    if (other_) {
        for (const technique::Position& position : open_.pack().positions) {
            if (timeOfPosition(open_.judged(), position.id) &&
                timeOfPosition(*other_, position.id)) {
                shared.push_back(position.id);
            }
        }
    }
    return shared;
}

void Comparison::stepTogether(const std::optional<std::string>& from) {
    trueTimeFrom_ = from;
    nudged_ = 0;
    compare();
    emit stepChanged();
}

void Comparison::nudge(int frames) {
    nudged_ += frames;
    emit stepChanged();
    wantPicture();
}

std::optional<int> Comparison::otherFrame(int frame) const {
    if (!warp_) {
        return std::nullopt;
    }
    const auto matching =
        frameNearest(other_->circumstances.time, warp_->there(timeOf(open_.judged(), frame)));
    const int last = other_->circumstances.time.frameCount() - 1;
    return matching && *matching + nudged_ >= 0 && *matching + nudged_ <= last
               ? std::optional(*matching + nudged_)
               : std::nullopt;
}

std::optional<Comparison::Times> Comparison::times() const {
    const auto there = otherFrame(open_.frame());
    if (!there) {
        return std::nullopt;
    }
    model::TimeWarp::Same zero = warp_->instants().front();
    const auto anchorHere = timeOfPosition(open_.judged(), open_.pack().anchor);
    const auto anchorThere = timeOfPosition(*other_, open_.pack().anchor);
    if (anchorHere && anchorThere) {
        zero = {*anchorHere, *anchorThere};
    }
    return Times{(timeOf(open_.judged(), open_.frame()) - zero.here).value,
                 (timeOf(*other_, *there) - zero.there).value};
}

QImage Comparison::otherPicture(int frame) const {
    return pictures_->picture(frame);
}

QImage Comparison::nearestOtherPicture(int frame) const {
    return pictures_->nearest(frame);
}

const film::FilmIndex* Comparison::otherFilm() const {
    return otherFilm_ ? &*otherFilm_ : nullptr;
}

void Comparison::wantPicture() {
    if (watched_ && other_ && pictures_) {
        if (const auto frame = otherFrame(open_.frame())) {
            pictures_->want(*frame);
        }
    }
}

} // namespace kestrel::desk
