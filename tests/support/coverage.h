#pragma once

#include <QString>
#include <QTest>

#include <algorithm>
#include <array>
#include <string_view>

/// Whether intervals that claim to hold the truth in 95 % do so: too wide is as wrong as too
/// narrow.
namespace kestrel::support {

constexpr double leastInside = 0.90;
constexpr double mostInside = 0.995;
/// Of fewer intervals all may hold the truth by chance (0.95^60 is 5 %), so nothing is said of too
/// wide.
constexpr int enoughForTooWide = 60;

/// What claims more than it knows to be unsure of, by name. A name may only go from here: a test
/// whose intervals are as wide as they claim fails as long as it is on the list.
constexpr std::array<std::string_view, 20> knownTooWide{
    "a limb's own length",
    "a pitch's readings, against the body in space",
    "a pitch's readings, against the error-free picture",
    "agreement of paths",
    "difference of paths",
    "heel of a stick",
    "opening after a peak",
    "peak after an opening",
    "plant_stride_metres on the ground, overhead",
    "share of speed",
    "smoothed acceleration, 240 a second",
    "smoothed acceleration, 60 a second",
    "smoothed acceleration, noisy",
    "smoothed acceleration, uneven",
    "steepness of a path, down",
    "steepness of a path, up to the left",
    "steepness of a path, up to the right",
    "time of a speed's peak, 120, placed",
    "time of a speed's peak, 120, tracked",
    "time of a speed's peak, 240, placed",
};

inline bool isKnownTooWide(const QString& name) {
    return std::find(knownTooWide.begin(), knownTooWide.end(), name.toStdString()) !=
           knownTooWide.end();
}

} // namespace kestrel::support

/// Fails when of `all` intervals called `name` too few hold the truth, or too many.
#define VERIFY_COVERAGE(name, held, all)                                                           \
    do {                                                                                           \
        const QString coverageName_ = QString(name);                                               \
        const int coverageHeld_ = (held);                                                          \
        const int coverageAll_ = (all);                                                            \
        QVERIFY2(coverageAll_ > 0, qPrintable(coverageName_ + ": nothing was counted"));           \
        const double coverageShare_ = static_cast<double>(coverageHeld_) / coverageAll_;           \
        const QString coverageSaid_ = QString("%1: %2 of %3 hold the truth, %4 %")                 \
                                          .arg(coverageName_)                                      \
                                          .arg(coverageHeld_)                                      \
                                          .arg(coverageAll_)                                       \
                                          .arg(100.0 * coverageShare_, 0, 'f', 1);                 \
        qInfo("%s", qPrintable(coverageSaid_));                                                    \
        QVERIFY2(coverageShare_ >= kestrel::support::leastInside, qPrintable(coverageSaid_));      \
        if (coverageAll_ >= kestrel::support::enoughForTooWide) {                                  \
            if (kestrel::support::isKnownTooWide(coverageName_)) {                                 \
                QEXPECT_FAIL("", "wider than claimed", Continue);                                  \
            }                                                                                      \
            QVERIFY2(coverageShare_ <= kestrel::support::mostInside, qPrintable(coverageSaid_));   \
        }                                                                                          \
    } while (false)
