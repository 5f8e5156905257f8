#include "technique/judge/film_remarks.h"

#include "model/reading.h"

#include <array>
#include <cmath>

namespace kestrel::technique {
namespace {

using model::Figure;
using model::Message;
using model::message;
using Grade = FilmRemark::Grade;

// Limits of the grades: working figures, a few times what a coach can place by hand.
constexpr double fineDegrees = 2.5;
constexpr double roughDegrees = 5.0;
constexpr double blownShare = 0.05;
constexpr double darkMean = 0.2;
constexpr double stillPx = 1.0;

Grade gradeOf(double degrees) {
    return degrees <= fineDegrees    ? Grade::good
           : degrees <= roughDegrees ? Grade::mind
                                     : Grade::poor;
}

/// A remark of several sentences.
FilmRemark remark(Grade grade, std::vector<Message> sentences) {
    return {grade, model::listOf("list.sentences", std::move(sentences))};
}

FilmRemark size(const Pack& pack, const FilmFacts& facts, const FilmCheck& check) {
    const double degrees = check.placingDegrees;
    std::vector<Message> says{message("film.size", Figure{facts.playerHeightPx},
                                      pack.filming.fastest.segment,
                                      Figure{model::coverage95 * degrees, 1})};
    if (gradeOf(degrees) != Grade::good) {
        says.push_back(message("film.come_nearer"));
    }
    return remark(gradeOf(degrees), std::move(says));
}

FilmRemark frames(const Pack& pack, const FilmFacts& facts) {
    constexpr double rounding = 0.98; // 119.88 is 120
    const double rate = 1.0 / facts.frameInterval;
    // A rate is told to four figures: 29.97, 119.9, 1000.
    const int decimals = rate < 100.0 && std::abs(rate - std::round(rate)) > 0.005   ? 2
                         : rate < 1000.0 && std::abs(rate - std::round(rate)) > 0.05 ? 1
                                                                                     : 0;
    std::vector<Message> says{
        message("film.frames", Figure{1000.0 * facts.frameInterval, 1}, Figure{rate, decimals})};
    Grade grade = Grade::good;
    if (rate < rounding * pack.filming.lowestRate) {
        grade = Grade::poor;
        says.push_back(message("film.too_few_frames", Figure{pack.filming.lowestRate}));
    } else if (rate < rounding * pack.filming.goodRate) {
        grade = Grade::mind;
        says.push_back(message("film.more_frames", Figure{pack.filming.goodRate}));
    }
    return remark(grade, std::move(says));
}

FilmRemark blur(const Pack& pack, const FilmFacts& facts, const BlurCost& open) {
    const Filming::Fastest& fastest = pack.filming.fastest;
    return remark(gradeOf(open.degrees) == Grade::good ? Grade::good : Grade::mind,
                  {facts.playerHeightPx > 0.0
                       ? message("film.blur_px", fastest.part, Figure{open.pxBetweenFrames})
                       : message("film.blur", fastest.part),
                   message("film.blur_cost", Figure{model::coverage95 * open.degrees},
                           fastest.segment, nameOfShutter(exposureForBlur(fastest, fineDegrees)),
                           Figure{model::coverage95 * fineDegrees})});
}

FilmRemark light(const PictureFacts& picture) {
    if (picture.tooBright > blownShare) {
        return {Grade::mind, message("film.blown", Figure{100.0 * picture.tooBright})};
    }
    if (picture.brightness < darkMean) {
        return {Grade::mind, message("film.dark")};
    }
    return {Grade::good, message("film.light_right")};
}

FilmRemark steadiness(const PictureFacts& picture) {
    if (!picture.cameraFollowed) {
        return {Grade::mind, message("film.camera_not_followed")};
    }
    if (picture.driftPx <= stillPx) {
        return {Grade::good, message("film.camera_still")};
    }
    return {Grade::mind,
            message("film.camera_moved", Figure{picture.driftPx}, Figure{picture.shakePx, 1})};
}

/// One sentence for each thing that an editor did; none where nothing was.
std::vector<FilmRemark> edits(const EditFacts& facts) {
    std::vector<Message> says;
    if (facts.cuts > 0) {
        says.push_back(message("film.cuts", facts.cuts));
    }
    if (facts.dark > 0) {
        says.push_back(message("film.dark_stretches", facts.dark));
    }
    if (facts.held > 0) {
        says.push_back(message("film.held", facts.held, Figure{facts.heldS, 1}));
    }
    if (facts.repeated > 0.0) {
        const double shownRate = facts.fileRate * (1.0 - facts.repeated);
        says.push_back(message("film.repeated", Figure{100.0 * facts.repeated}, Figure{shownRate}));
    }
    if (facts.graphics > 0) {
        says.push_back(message("film.graphics", facts.graphics));
    }
    if (facts.bars > 0.0) {
        says.push_back(message("film.bars", Figure{100.0 * facts.bars}));
    }
    return says.empty() ? std::vector<FilmRemark>{}
                        : std::vector{remark(Grade::mind, std::move(says))};
}

} // namespace

EditFacts editFacts(const model::FilmStudy& study, const std::vector<model::Seconds>& times,
                    int width, int height) {
    EditFacts facts;
    for (const model::FilmBreak& b : study.breaks) {
        switch (b.kind) {
        case model::FilmBreak::Kind::cut:
            ++facts.cuts;
            break;
        case model::FilmBreak::Kind::dark:
            ++facts.dark;
            break;
        case model::FilmBreak::Kind::still:
            ++facts.held;
            facts.heldS += (times.at(static_cast<std::size_t>(b.span.last)) -
                            times.at(static_cast<std::size_t>(b.span.first)))
                               .value;
            break;
        }
    }
    facts.graphics = static_cast<int>(study.graphics.size());
    if (study.insideBars) {
        facts.bars = 1.0 - study.insideBars->width * study.insideBars->height /
                               (static_cast<double>(width) * height);
    }
    if (study.repeated >= model::clearlyRepeated && times.size() > 1) {
        facts.repeated = study.repeated;
        facts.fileRate =
            static_cast<double>(times.size() - 1) / (times.back() - times.front()).value;
    }
    return facts;
}

Message nameOfShutter(double seconds) {
    if (seconds >= 0.5) {
        return message("shutter.seconds", Figure{seconds, 1});
    }
    // Shutters come in round figures.
    constexpr std::array usual{2.0,   4.0,   8.0,    15.0,   30.0,   60.0,   125.0, 250.0,
                               500.0, 800.0, 1000.0, 1600.0, 2000.0, 4000.0, 8000.0};
    double best = usual.back();
    for (const double step : usual) {
        if (1.0 / step <= seconds) {
            best = step;
            break;
        }
    }
    return message("shutter.part", Figure{best});
}

std::vector<FilmRemark> filmRemarks(const Pack& pack, const FilmFacts& facts,
                                    const std::optional<PictureFacts>& picture) {
    const FilmCheck check = checkFilm(pack, facts);
    std::vector<FilmRemark> remarks;
    if (facts.playerHeightPx > 0.0) {
        remarks.push_back(size(pack, facts, check));
    }
    if (facts.frameInterval > 0.0) {
        remarks.push_back(frames(pack, facts));
        remarks.push_back(blur(pack, facts, *check.blurOpen));
    }
    if (picture) {
        remarks.push_back(light(*picture));
        remarks.push_back(steadiness(*picture));
        for (FilmRemark& edit : edits(picture->edits)) {
            remarks.push_back(std::move(edit));
        }
    }
    return remarks;
}

} // namespace kestrel::technique
