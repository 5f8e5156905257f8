#include "study/messy_film.h"

#include "study/body_population.h"
#include "synth/outfits.h"

#include <algorithm>
#include <random>

namespace kestrel::study {
namespace {

using model::FilmBreak;
using synth::FilmEdit;

constexpr int perSecond = 30;
constexpr int mostSkipped = 5; ///< frames of a shot from one to the next; more is a cut
constexpr int fewestHeld = 8;  ///< frames; fewer are repeated pictures, not a held one

/// Draws the particulars of one film.
class Draw {
  public:
    explicit Draw(std::uint32_t seed) : seed_(seed), random_(seed * 2654435761U + 17U) {}

    int between(int least, int most) {
        return std::uniform_int_distribution<int>(least, most)(random_);
    }
    double between(double least, double most) {
        return std::uniform_real_distribution<double>(least, most)(random_);
    }
    /// The player of this film, filmed from one side or another.
    synth::FilmSpec shot() {
        constexpr std::array sides{Around::side, Around::front, Around::rear, Around::between};
        synth::FilmSpec spec = drawnFilm(seed_, sides[static_cast<std::size_t>(between(0, 3))]);
        spec.width = 640;
        spec.height = 360;
        spec.captureRate = perSecond;
        spec.fileRate = {perSecond, 1};
        spec.exposureS = 1.0 / 250.0;
        spec.quality = 26;
        spec.outfit = synth::outfitFor(spec.player.technique, seed_);
        return spec;
    }
    /// So many frames, from that to that many seconds.
    int frames(double least, double most) {
        return static_cast<int>(between(least, most) * perSecond);
    }

  private:
    std::uint32_t seed_;
    std::mt19937 random_;
};

/// The same shot as if another camera had stood elsewhere.
synth::FilmSpec fromElsewhere(synth::FilmSpec spec, double aroundDeg) {
    spec.camera.aroundDeg += aroundDeg;
    spec.camera.bodyFraction *= 0.8;
    return spec;
}

/// A shot with its standing still, faded in and out.
void fadedShot(FilmEdit& edit, int shot, Draw& draw) {
    const auto from = static_cast<int>(edit.frames.size());
    synth::playWhole(edit, shot, draw.frames(0.6, 1.2));
    const int fade = draw.frames(0.3, 0.8);
    synth::fadeIn(edit, from, fade);
    synth::fadeOut(edit, fade);
    synth::dark(edit, draw.frames(0.2, 0.8));
}

/// Cuts, dark and held stretches of an edited film.
std::vector<FilmBreak> breaksOf(const FilmEdit& edit) {
    std::vector<FilmBreak> breaks;
    const auto count = static_cast<int>(edit.frames.size());
    const auto at = [&](int i) -> const synth::EditedFrame& {
        return edit.frames[static_cast<std::size_t>(i)];
    };
    for (int i = 0; i < count; ++i) {
        int end = i;
        const bool jumps =
            i > 0 && !at(i).held && at(i).light == 1.0 && at(i - 1).light == 1.0 &&
            (at(i).shot != at(i - 1).shot || std::abs(at(i).take - at(i - 1).take) > mostSkipped);
        if (jumps) {
            breaks.push_back({FilmBreak::Kind::cut, {i - 1, i}});
        }
        if (at(i).light < 1.0) {
            while (end + 1 < count && at(end + 1).light < 1.0) {
                ++end;
            }
            breaks.push_back({FilmBreak::Kind::dark, {i, end}});
        } else {
            while (end + 1 < count && at(end + 1).held && at(end + 1).light == 1.0) {
                ++end;
            }
            if (end - i >= fewestHeld) {
                breaks.push_back({FilmBreak::Kind::still, {i, end}});
            } else {
                end = i;
            }
        }
        i = end;
    }
    return breaks;
}

std::vector<model::FrameSpan> repsOf(const FilmEdit& edit) {
    std::vector<int> lasts;
    for (const synth::FilmSpec& spec : edit.shots) {
        lasts.push_back(synth::FilmScene(spec).frameCount() - 1);
    }
    std::vector<model::FrameSpan> reps;
    bool inside = false;
    for (std::size_t i = 0; i < edit.frames.size(); ++i) {
        const synth::EditedFrame& frame = edit.frames[i];
        const bool moves =
            frame.take >= 0 && frame.take <= lasts[static_cast<std::size_t>(frame.shot)];
        const bool goesOn =
            i > 0 && frame.shot == edit.frames[i - 1].shot && frame.take >= edit.frames[i - 1].take;
        if (moves && inside && goesOn) {
            reps.back().last = static_cast<int>(i);
        } else if (moves) {
            reps.push_back({static_cast<int>(i), static_cast<int>(i)});
        }
        inside = moves;
    }
    return reps;
}

double repeatedOf(const FilmEdit& edit, const std::vector<FilmBreak>& breaks) {
    int all = 0;
    int repeated = 0;
    for (std::size_t i = 1; i < edit.frames.size(); ++i) {
        const bool isBreak = std::any_of(breaks.begin(), breaks.end(), [&](const FilmBreak& b) {
            return b.span.contains(static_cast<int>(i));
        });
        all += isBreak ? 0 : 1;
        repeated += !isBreak && edit.frames[i].held ? 1 : 0;
    }
    return all > 0 ? static_cast<double>(repeated) / all : 0.0;
}

FilmEdit edited(Mess mess, Draw& draw) {
    const synth::FilmSpec first = draw.shot();
    FilmEdit edit{{first}, {}, {}};
    const int moving = synth::FilmScene(first).frameCount();
    const auto lay = [&](synth::Graphic graphic, model::PixelBox box, int from, int to) {
        edit.graphics.push_back({graphic, box, {from, to}});
    };
    const auto length = [&] { return static_cast<int>(edit.frames.size()); };
    switch (mess) {
    case Mess::oneTake:
        synth::playWhole(edit, 0, draw.frames(0.8, 1.5));
        break;
    case Mess::handHeld:
        edit.shots[0].camera.shakePx = draw.between(1.0, 4.0);
        edit.shots[0].nettingInFront = true;
        edit.shots[0].passerBy = true;
        synth::playWhole(edit, 0, 0);
        break;
    case Mess::cuts:
        edit.shots.push_back(fromElsewhere(first, 90.0));
        edit.shots.push_back(fromElsewhere(first, draw.between(25.0, 60.0)));
        for (int shot = 0; shot < 3; ++shot) {
            synth::playWhole(edit, shot, draw.frames(0.5, 1.0));
        }
        break;
    case Mess::jumps:
        synth::playWhole(edit, 0, draw.frames(0.4, 1.0));
        synth::playWhole(edit, 0, draw.frames(0.4, 1.0));
        break;
    case Mess::fades:
    case Mess::logo:
        edit.shots.push_back(fromElsewhere(first, draw.between(0.0, 60.0)));
        fadedShot(edit, 0, draw);
        if (mess == Mess::logo) {
            const int over = draw.frames(2.0, 3.0);
            lay(synth::Graphic::turningLogo, {20.0, 20.0, 90.0, 90.0}, 0,
                std::min(over, length() - 1));
            synth::play(edit, 1, -1, -1);
            synth::hold(edit, draw.frames(1.5, 3.0));
        }
        fadedShot(edit, 1, draw);
        break;
    case Mess::screenRecording:
        edit.shots[0].quality = 32;
        synth::playWhole(edit, 0, draw.frames(0.5, 1.0));
        synth::repeatPictures(edit, draw.between(2, 3));
        break;
    case Mess::bars:
        edit.barPx = draw.between(60, 140);
        synth::playWhole(edit, 0, draw.frames(0.5, 1.0));
        break;
    case Mess::scoreLine:
        synth::playWhole(edit, 0, draw.frames(0.8, 1.5));
        lay(synth::Graphic::scoreLine, {24.0, 310.0, 200.0, 30.0}, draw.frames(0.3, 0.6),
            length() - 1);
        break;
    case Mess::drawnOn: {
        synth::play(edit, 0, -draw.frames(0.5, 1.0), moving / 2);
        const int from = length();
        synth::hold(edit, draw.frames(1.5, 2.5));
        const double x = draw.between(60.0, 420.0);
        lay(synth::Graphic::arrow, {x, draw.between(40.0, 180.0), 120.0, 120.0}, from + 12,
            length() - 1);
        synth::play(edit, 0, moving / 2 + 1, moving - 1 + draw.frames(0.5, 1.0));
        break;
    }
    case Mess::replay: {
        const int still = draw.frames(0.5, 1.0);
        synth::playWhole(edit, 0, still);
        FilmEdit slow{{first}, {}, {}};
        for (int take = -5; take < moving + 5; ++take) {
            synth::play(slow, 0, take, take);
            synth::hold(slow, 2);
        }
        edit.frames.insert(edit.frames.end(), slow.frames.begin(), slow.frames.end());
        break;
    }
    }
    return edit;
}

} // namespace

std::string_view name(Mess mess) {
    constexpr std::array names{"one take", "hand-held",        "cuts", "jumps",      "fades",
                               "logo",     "screen recording", "bars", "score line", "drawn on",
                               "replay"};
    return names[static_cast<std::size_t>(mess)];
}

MessyFilm messyFilm(Mess mess, std::uint32_t seed) {
    Draw draw(seed * 31U + static_cast<std::uint32_t>(mess));
    MessyFilm film;
    film.edit = edited(mess, draw);
    film.reps = repsOf(film.edit);
    film.breaks = breaksOf(film.edit);
    film.repeated = repeatedOf(film.edit, film.breaks);
    for (const synth::LaidOver& laid : film.edit.graphics) {
        film.graphics.push_back({laid.box, laid.frames});
    }
    return film;
}

} // namespace kestrel::study
