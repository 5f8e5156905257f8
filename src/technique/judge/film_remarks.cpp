#include "technique/judge/film_remarks.h"

#include "model/reading.h"

#include <array>
#include <cmath>
#include <cstdio>

namespace kestrel::technique {
namespace {

using Grade = FilmRemark::Grade;

// Limits of the grades: working figures, a few times what a coach can place by hand.
constexpr double fineDegrees = 2.5;
constexpr double roughDegrees = 5.0;
constexpr double blownShare = 0.05;
constexpr double darkMean = 0.2;
constexpr double stillPx = 1.0;

template <class... Arguments>
std::string formatted(const char* format, const Arguments&... arguments) {
    std::array<char, 512> text{};
    std::snprintf(text.data(), text.size(), format, arguments...);
    return text.data();
}

Grade gradeOf(double degrees) {
    return degrees <= fineDegrees    ? Grade::good
           : degrees <= roughDegrees ? Grade::mind
                                     : Grade::poor;
}

FilmRemark size(const Pack& pack, const FilmFacts& facts, const FilmCheck& check) {
    const double degrees = check.placingDegrees;
    FilmRemark remark;
    remark.grade = gradeOf(degrees);
    remark.text = formatted("The player is about %.0f pixels tall. Careful clicks leave the %s "
                            "unsure by ±%.1f°.",
                            facts.playerHeightPx, pack.filming.fastest.segment.c_str(),
                            model::coverage95 * degrees);
    if (remark.grade != Grade::good) {
        remark.text += " Come nearer or zoom in, so that the player fills most of the height.";
    }
    return remark;
}

FilmRemark frames(const Pack& pack, const FilmFacts& facts) {
    constexpr double rounding = 0.98; // 119.88 is 120
    const double rate = 1.0 / facts.frameInterval;
    FilmRemark remark;
    remark.text =
        formatted("A frame every %.1f ms (%.4g a second).", 1000.0 * facts.frameInterval, rate);
    if (rate >= rounding * pack.filming.goodRate) {
        return remark;
    }
    remark.grade = rate >= rounding * pack.filming.lowestRate ? Grade::mind : Grade::poor;
    remark.text +=
        formatted(remark.grade == Grade::mind ? " %.0f would show the fastest part better."
                                              : " The fastest part is missed; film it at %.0f.",
                  remark.grade == Grade::mind ? pack.filming.goodRate : pack.filming.lowestRate);
    return remark;
}

FilmRemark blur(const Pack& pack, const FilmFacts& facts, const BlurCost& open) {
    const Filming::Fastest& fastest = pack.filming.fastest;
    FilmRemark remark;
    remark.grade = gradeOf(open.degrees) == Grade::good ? Grade::good : Grade::mind;
    if (facts.playerHeightPx > 0.0) {
        remark.text =
            formatted("The %s goes up to %.0f pixels from frame to frame and blurs by that "
                      "much when the shutter stays open.",
                      fastest.part.c_str(), open.pxBetweenFrames);
    } else {
        remark.text = "The " + fastest.part + " blurs when the shutter stays open.";
    }
    remark.text +=
        formatted(" That costs up to ±%.0f° in the %s; a shutter of %s keeps it to ±%.0f°.",
                  model::coverage95 * open.degrees, fastest.segment.c_str(),
                  shutterText(exposureForBlur(fastest, fineDegrees)).c_str(),
                  model::coverage95 * fineDegrees);
    return remark;
}

FilmRemark light(const PictureFacts& picture) {
    if (picture.tooBright > blownShare) {
        return {Grade::mind,
                formatted("%.0f %% of the picture is white without detail; limbs in it "
                          "cannot be found. Film with the sun behind you.",
                          100.0 * picture.tooBright)};
    }
    if (picture.brightness < darkMean) {
        return {Grade::mind,
                "The film is dark. A phone then keeps its shutter open longer, so expect "
                "blur; film in brighter light."};
    }
    return {Grade::good, "The light is right."};
}

FilmRemark steadiness(const PictureFacts& picture) {
    if (!picture.cameraFollowed) {
        return {Grade::mind, "The background shows too little to tell whether the camera moved."};
    }
    if (picture.driftPx <= stillPx) {
        return {Grade::good, "The camera stood still."};
    }
    return {Grade::mind,
            formatted("The camera moved by up to %.0f pixels and shook by %.1f. Measure "
                      "paths and drifts against the background.",
                      picture.driftPx, picture.shakePx)};
}

} // namespace

std::string shutterText(double seconds) {
    if (seconds >= 0.5) {
        return formatted("%.1f s", seconds);
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
    return formatted("1/%.0f s", best);
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
    }
    return remarks;
}

} // namespace kestrel::technique
