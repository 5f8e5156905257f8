#pragma once

#include "synth/player_motion.h"

#include <QTest>

#include <string>
#include <utility>
#include <vector>

/// The techniques of the synthetic player and their variants, for data-driven tests.
namespace kestrel::support {

/// The techniques that a long test goes through: all, but under the address sanitizer, where each
/// takes some thirty times as long, three that stand for the three ways in which arms are led.
inline std::vector<std::string> techniquesToStudy() {
#ifdef __SANITIZE_ADDRESS__
    return {"float_serve", "overhand_pitch", "two_handed_backhand"};
#else
    return synth::techniquesWithMotion();
#endif
}

/// Every technique the synthetic player knows, with each of its variants.
inline std::vector<synth::PlayerSpec> allMotions() {
    std::vector<synth::PlayerSpec> motions;
    for (const std::string& technique : synth::techniquesWithMotion()) {
        synth::PlayerSpec spec;
        spec.technique = technique;
        motions.push_back(spec);
        for (const auto& [id, variant] : synth::loadMotionSheet(technique).variants) {
            spec.variant = id;
            motions.push_back(spec);
        }
    }
    return motions;
}

/// One row a motion: columns "technique" and "variant".
inline void motionRows() {
    QTest::addColumn<std::string>("technique");
    QTest::addColumn<std::string>("variant");
    for (const synth::PlayerSpec& spec : allMotions()) {
        const std::string name = spec.technique + (spec.variant.empty() ? "" : " " + spec.variant);
        QTest::newRow(name.c_str()) << spec.technique << spec.variant;
    }
}

/// The player of the row under test, 1.58 m tall.
inline synth::PlayerSpec playerOfRow() {
    QFETCH(std::string, technique);
    QFETCH(std::string, variant);
    synth::PlayerSpec spec;
    spec.technique = technique;
    spec.variant = variant;
    spec.build.heightM = 1.58;
    return spec;
}

} // namespace kestrel::support
