#pragma once

#include "study/body_population.h"

#include <filesystem>
#include <string>
#include <utility>
#include <vector>

/// How right the body in space is, on players and cameras that it was not set on.
namespace kestrel::study {

/// One quantity at one key position of one film.
struct BodyReading {
    std::string quantity;
    std::string position;
    double truth = 0.0;
    double value = 0.0; ///< degrees; the error is value − truth, the short way round
    double u95 = 0.0;

    [[nodiscard]] double error() const;
    /// Whether it is a direction seen from above, of a line or between two.
    [[nodiscard]] bool turns() const;
    [[nodiscard]] bool inside() const;
};

/// One film of the population.
struct BodyFilm {
    std::uint32_t seed = 0;
    Around around = Around::side;
    Landmarks landmarks = Landmarks::placed;
    std::string technique;
    std::vector<BodyReading> readings;
    /// Lines through hips and shoulders turned more than 20° out of the picture at key positions,
    /// and those of which the right end was found to be nearer.
    int turnedLines = 0;
    int nearerRight = 0;
    double seconds = 0.0; ///< what the fit took
    double filmedS = 0.0;
    bool fitted = false;
};

/// Makes that film and fits the body to what it shows. Rendered films are kept in `folder`; throws
/// then as followedFilm().
BodyFilm studyBody(std::uint32_t seed, Around around, Landmarks landmarks,
                   const std::filesystem::path& folder);

/// A film of which a machine tracked the landmarks, after a coach corrected those of the key
/// positions: what body::fitAgain() makes of it, and in what time. The film is not rendered.
BodyFilm studyCorrected(std::uint32_t seed, Around around);

/// Seeds below it are for setting the estimate's figures, the others for measuring how right it is.
inline constexpr std::uint32_t firstMeasuringSeed = 1000;

/// Every kind of landmarks from every place.
std::vector<std::pair<Landmarks, Around>> allBodyConditions();

/// The films as a page of Markdown.
std::string bodyPage(const std::vector<BodyFilm>& films, std::uint32_t firstSeed);

} // namespace kestrel::study
