#include "synth/curve.h"

#include <algorithm>
#include <utility>

namespace kestrel::synth {

Curve::Curve(std::vector<CurveKey> keys, Arrival arrival) : keys_(std::move(keys)) {
    const std::size_t count = keys_.size();
    slopesIn_.assign(count, 0.0);
    std::vector<double> secants;
    for (std::size_t i = 1; i < count; ++i) {
        secants.push_back((keys_[i].value - keys_[i - 1].value) /
                          (keys_[i].time - keys_[i - 1].time));
    }
    // At rest at both ends and at every turn; between two secants of one sign their weighted
    // harmonic mean.
    for (std::size_t i = 1; i + 1 < count; ++i) {
        const double before = secants[i - 1];
        const double after = secants[i];
        if (before * after > 0.0) {
            const double spanBefore = keys_[i].time - keys_[i - 1].time;
            const double spanAfter = keys_[i + 1].time - keys_[i].time;
            const double w1 = 2.0 * spanAfter + spanBefore;
            const double w2 = spanAfter + 2.0 * spanBefore;
            slopesIn_[i] = (w1 + w2) / (w1 / before + w2 / after);
        }
    }
    slopesOut_ = slopesIn_;
    if (arrival == Arrival::striking) {
        const double lowest =
            std::min_element(keys_.begin(), keys_.end(), [](const CurveKey& a, const CurveKey& b) {
                return a.value < b.value;
            })->value;
        for (std::size_t i = 1; i < count; ++i) {
            if (keys_[i].value == lowest && keys_[i - 1].value > lowest) {
                slopesIn_[i] = secants[i - 1];
            }
        }
    }
}

double Curve::operator()(double time) const {
    if (keys_.empty()) {
        return 0.0;
    }
    if (time <= keys_.front().time) {
        return keys_.front().value;
    }
    if (time >= keys_.back().time) {
        return keys_.back().value;
    }
    const auto after = std::upper_bound(keys_.begin(), keys_.end(), time,
                                        [](double t, const CurveKey& key) { return t < key.time; });
    const auto i = static_cast<std::size_t>(after - keys_.begin()) - 1;
    const double span = keys_[i + 1].time - keys_[i].time;
    const double s = (time - keys_[i].time) / span;
    // Quintic Hermite with no acceleration at both ends.
    const double rise = s * s * s * (10.0 + s * (-15.0 + 6.0 * s));
    const double leave = s + s * s * s * (-6.0 + s * (8.0 - 3.0 * s));
    const double come = s * s * s * (-4.0 + s * (7.0 - 3.0 * s));
    return keys_[i].value + rise * (keys_[i + 1].value - keys_[i].value) +
           span * (leave * slopesOut_[i] + come * slopesIn_[i + 1]);
}

} // namespace kestrel::synth
