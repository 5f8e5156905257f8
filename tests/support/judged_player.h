#pragma once

#include "coaching/findings.h"
#include "synth/film_render.h"
#include "technique/pack/pack.h"

#include <map>
#include <set>
#include <string>
#include <vector>

/// The synthetic player as a pack sees it, judged without a film: true positions, landmarks as a
/// careful hand places them, cones on the ground.
namespace kestrel::support {

/// The pack's technique as its own advice says to film it, by a player without a fault.
synth::FilmSpec skilled(const technique::Pack& pack, model::View view, model::Hand hand,
                        const std::string& variant);

struct Judged {
    std::vector<model::Reading> readings;
    std::map<std::string, double> truth;
    model::Findings findings;
    std::set<std::string> schools; ///< chosen
};

/// `school` is chosen as well, when there is one.
Judged judged(const technique::Pack& pack, const synth::FilmSpec& spec,
              const std::string& school = {});

/// The views in which some sign of the fault can be read.
std::set<model::View> viewsOf(const technique::Pack& pack, const technique::FaultDefinition& fault);

} // namespace kestrel::support
