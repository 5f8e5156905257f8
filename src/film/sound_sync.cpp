#include "film/sound_sync.h"

#include "film/sound.h"

#include <unsupported/Eigen/FFT>

#include <algorithm>
#include <cmath>
#include <complex>
#include <vector>

namespace kestrel::film {
namespace {

constexpr int binsASecond = 1000;
/// A bin's width, uniform, and that two microphones do not hear a knock alike.
constexpr double stepSd = 0.001; // seconds
/// By what factor a shift must fit better than any other; two films of silence or of steady noise
/// fit equally badly everywhere. Checked on made sounds (tests/film/test_sound_sync.cpp).
constexpr double clearly = 1.5;
constexpr int neighbouring = binsASecond / 50;

/// How much louder each bin is than the one before, in multiples of what is usual there, without
/// the low hum that wind and hands make, less the mean of it.
std::vector<float> rises(std::span<const float> samples) {
    constexpr std::size_t perBin = soundRate / binsASecond;
    std::vector<double> loudness;
    for (std::size_t start = 0; start + perBin < samples.size(); start += perBin) {
        // About the bin's own mean, which leaves hum and wind out.
        double sum = 0.0;
        double square = 0.0;
        for (const float sample : samples.subspan(start, perBin)) {
            sum += sample;
            square += static_cast<double>(sample) * sample;
        }
        const double energy = std::max(0.0, square - sum * sum / static_cast<double>(perBin));
        loudness.push_back(energy / static_cast<double>(perBin));
    }
    if (loudness.empty()) {
        return {};
    }
    std::vector<double> sorted = loudness;
    std::nth_element(sorted.begin(),
                     sorted.begin() + static_cast<std::ptrdiff_t>(sorted.size() / 2), sorted.end());
    constexpr double quietest = 1e-10; // below what 16 bits hold
    const double usual = std::max(sorted[sorted.size() / 2], quietest);
    std::vector<float> result(loudness.size(), 0.0F);
    for (std::size_t i = 1; i < loudness.size(); ++i) {
        const double rise = std::log1p(loudness[i] / usual) - std::log1p(loudness[i - 1] / usual);
        result[i] = static_cast<float>(std::max(0.0, rise));
    }
    // Without their mean, so that noise fits nowhere rather than everywhere.
    double sum = 0.0;
    for (const float rise : result) {
        sum += rise;
    }
    const auto mean = static_cast<float>(sum / static_cast<double>(result.size()));
    for (float& rise : result) {
        rise -= mean;
    }
    return result;
}

/// Sum of products at every shift of `second` to later, as long as the transform: shifts to earlier
/// stand at its end.
std::vector<float> correlation(std::vector<float> first, std::vector<float> second) {
    std::size_t length = 1;
    while (length < first.size() + second.size()) {
        length *= 2;
    }
    first.resize(length, 0.0F);
    second.resize(length, 0.0F);
    Eigen::FFT<float> transform;
    std::vector<std::complex<float>> a;
    std::vector<std::complex<float>> b;
    transform.fwd(a, first);
    transform.fwd(b, second);
    for (std::size_t i = 0; i < a.size(); ++i) {
        b[i] *= std::conj(a[i]);
    }
    std::vector<float> result;
    transform.inv(result, b);
    return result;
}

/// Blurred a little, so that knocks heard a millisecond apart still meet.
std::vector<float> blurred(const std::vector<float>& values) {
    std::vector<float> result(values.size(), 0.0F);
    for (std::size_t i = 0; i < values.size(); ++i) {
        const float before = i > 0 ? values[i - 1] : 0.0F;
        const float next = i + 1 < values.size() ? values[i + 1] : 0.0F;
        result[i] = 0.25F * before + 0.5F * values[i] + 0.25F * next;
    }
    return result;
}

} // namespace

std::optional<model::SyncOffset> syncOffsetOfSounds(std::span<const float> first,
                                                    std::span<const float> second) {
    const std::vector<float> a = blurred(rises(first));
    const std::vector<float> b = blurred(rises(second));
    if (a.empty() || b.empty()) {
        return std::nullopt;
    }
    const std::vector<float> fits = correlation(a, b);
    const auto length = static_cast<int>(fits.size());
    const int best = static_cast<int>(std::max_element(fits.begin(), fits.end()) - fits.begin());
    float other = 0.0F;
    for (int i = 0; i < length; ++i) {
        const int apart = std::abs(i - best);
        if (std::min(apart, length - apart) > neighbouring) {
            other = std::max(other, fits[static_cast<std::size_t>(i)]);
        }
    }
    const float highest = fits[static_cast<std::size_t>(best)];
    if (highest <= 0.0F || highest < clearly * other) {
        return std::nullopt;
    }
    const int shift = best > length / 2 ? best - length : best;
    return model::SyncOffset{static_cast<double>(shift) / binsASecond, stepSd};
}

std::optional<model::SyncOffset> syncOffsetBySound(const std::filesystem::path& first,
                                                   const std::filesystem::path& second) {
    const FilmSound one = readFilmSound(first);
    const FilmSound other = readFilmSound(second);
    auto step = syncOffsetOfSounds(one.samples, other.samples);
    if (step) {
        step->seconds += other.beginsAt - one.beginsAt;
    }
    return step;
}

} // namespace kestrel::film
