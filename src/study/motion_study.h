#pragma once

#include "technique/pack/pack.h"

#include <string>
#include <vector>

/// How right readings are when the landmarks are placed by a careful hand, on the synthetic player,
/// and how well their stated uncertainty agrees with Monte Carlo.
namespace kestrel::study {

/// One measure of a pack from one view, over both hands and all draws of placing errors.
struct MeasureStudy {
    std::string pack;
    std::string measure;
    std::string kind;
    model::View view = model::View::openSide;
    model::Unit unit = model::Unit::degrees;
    int read = 0;     ///< readings with a value
    int asked = 0;    ///< draws
    int truths = 0;   ///< of the readings, those whose truth is known
    double rms = 0.0; ///< of the error against the truth
    int inside = 0;   ///< truths inside the 95 % interval
    /// What placing says of itself over what the readings scatter by: root mean squares over the
    /// draws; 0 where placing has no part in it.
    double statedOverScatter = 0.0;
};

/// The skilled player of each pack from each view its measures name, both hands, at 1080p and the
/// pack's good rate, every landmark in every frame and the marks on the ground off by 1.5 px,
/// `draws` times each.
std::vector<MeasureStudy> studyMeasures(const std::vector<technique::Pack>& packs, int draws);

/// How often the order of the links of a sequence is told, and how often wrongly.
struct SequenceStudy {
    double rate = 0.0; ///< frames a second
    int steps = 0;     ///< neighbouring links that both have a peak
    int told = 0;
    int wrong = 0;
    int gapsInside = 0; ///< true times between the peaks inside their 95 % interval
    /// Steps that the film of this rate could tell: truly farther apart than two frames.
    int far = 0;
    int farTold = 0; ///< of those, told rightly
};

/// The skilled right-handed player of each pack from the first view of its sequence.
SequenceStudy studySequence(const std::vector<technique::Pack>& packs, double rate, int draws);

/// The studies as a page.
std::string motionPage(const std::vector<MeasureStudy>& measures,
                       const std::vector<SequenceStudy>& sequences, int draws);

} // namespace kestrel::study
