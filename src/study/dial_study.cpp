#include "study/dial_study.h"

#include <algorithm>
#include <cmath>
#include <cstdio>

namespace kestrel::study {
namespace {

/// Three significant figures with the unit.
std::string figure(double value, const std::string& unit) {
    char text[64];
    const double size = std::abs(value);
    const int decimals = size >= 100.0 ? 0 : size >= 10.0 ? 1 : size >= 1.0 ? 2 : 3;
    std::snprintf(text, sizeof text, "%.*f", decimals, value);
    static const std::map<std::string, std::string> signs{
        {"deg", "°"}, {"bh", " BH"}, {"percent", " %"}, {"ratio", ""}, {"heads", " heads"}};
    const auto sign = signs.find(unit);
    return text + (sign != signs.end() ? sign->second : " " + unit);
}

} // namespace

DialStudy studyDials(const synth::PlayerSpec& player) {
    synth::PlayerSpec spec = player;
    spec.dials.clear();
    spec.level = 1.0;
    spec.seed = 0;
    const synth::PlayerMotion clean(spec);
    DialStudy study{clean.sheet(), clean.quantities(), {}, {}};
    constexpr std::uint32_t reps = 20;
    for (std::uint32_t seed = 1; seed <= reps; ++seed) {
        synth::PlayerSpec rep = spec;
        rep.seed = seed;
        for (const auto& [id, value] : synth::PlayerMotion(rep).quantities()) {
            double& most = study.natural[id];
            most = std::max(most, std::abs(value - study.clean.at(id)));
        }
    }
    for (const auto& [id, dial] : study.sheet.dials) {
        for (const double part : {0.25, 0.5, 1.0}) {
            synth::PlayerSpec turned = spec;
            turned.dials[id] = part * dial.most;
            DialEffect effect{id, part * dial.most, 0.0, {}};
            for (const auto& [quantity, value] : synth::PlayerMotion(turned).quantities()) {
                const double moved = value - study.clean.at(quantity);
                if (quantity == dial.quantity) {
                    effect.moved = dial.direction * moved;
                } else if (std::abs(moved) > study.natural.at(quantity)) {
                    effect.others[quantity] = moved;
                }
            }
            study.effects.push_back(std::move(effect));
        }
    }
    return study;
}

std::string markdown(const DialStudy& study) {
    std::string text = "## " + study.sheet.title + "\n\n";
    text += "| dial | quantity it moves | without | most | moved at ¼, ½, all | moves with it |\n"
            "|---|---|---|---|---|---|\n";
    for (std::size_t i = 0; i + 2 < study.effects.size(); i += 3) {
        const DialEffect& most = study.effects[i + 2];
        const synth::Dial& dial = study.sheet.dials.at(most.dial);
        const synth::TrueQuantity& quantity = study.sheet.quantities.at(dial.quantity);
        const auto told = [&](double value) { return figure(value, quantity.unit); };
        text += "| " + dial.name + " (`" + most.dial + "`) | " + quantity.name + " | " +
                told(study.clean.at(dial.quantity)) + " | " + (dial.direction > 0 ? "+" : "−") +
                told(dial.most) + " | ";
        for (std::size_t part = 0; part < 3; ++part) {
            text += (part == 0 ? "" : ", ") + told(study.effects[i + part].moved);
        }
        text += " | ";
        std::string others;
        for (const auto& [id, moved] : most.others) {
            const synth::TrueQuantity& other = study.sheet.quantities.at(id);
            others += (others.empty() ? "" : "; ") + other.name + (moved > 0 ? " +" : " −") +
                      figure(std::abs(moved), other.unit);
        }
        text += (others.empty() ? "nothing" : others) + " |\n";
    }
    return text;
}

std::string dialsDocument() {
    std::string text =
        "# What the fault dials do\n\n"
        "Made by `./kestrel pages`. Each dial was turned alone, for a right-hander of 1.70 m. "
        "“Moved” "
        "is "
        "how far the true quantity moved in\nthe dial's direction at a quarter, half and all of "
        "the "
        "dial's range. “Moves with it” lists every further true\nquantity of the technique that, "
        "with the dial at its most, moved by more than it ever does over 20 reps of the\nskilled "
        "player: consequences of the fault, by nature of the body or because they measure the same "
        "thing otherwise.\n";
    for (const std::string& technique : synth::techniquesWithMotion()) {
        synth::PlayerSpec player;
        player.technique = technique;
        text += "\n" + markdown(studyDials(player));
    }
    return text;
}

} // namespace kestrel::study
