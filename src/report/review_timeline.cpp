#include "report/review_timeline.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdio>
#include <iterator>
#include <map>

namespace kestrel::report {
namespace {

/// "00:01:02,345"; `mark` stands before the milliseconds.
std::string clock(model::Seconds time, char mark) {
    constexpr int perSecond = 1000;
    constexpr int perMinute = 60 * perSecond;
    constexpr int perHour = 60 * perMinute;
    const long ms = std::lround(time.value * perSecond);
    std::array<char, 32> text{};
    std::snprintf(text.data(), text.size(), "%02ld:%02ld:%02ld%c%03ld", ms / perHour,
                  ms % perHour / perMinute, ms % perMinute / perSecond, mark, ms % perSecond);
    return text.data();
}

/// An empty line would end the caption.
std::string withoutEmptyLines(std::string text) {
    for (std::size_t at = text.find("\n\n"); at != std::string::npos; at = text.find("\n\n")) {
        text.erase(at, 1);
    }
    return text;
}

std::string escapedForVtt(const std::string& text) {
    std::string escaped;
    for (const char c : text) {
        switch (c) {
        case '&':
            escaped += "&amp;";
            break;
        case '<':
            escaped += "&lt;";
            break;
        case '>':
            escaped += "&gt;";
            break;
        default:
            escaped += c;
        }
    }
    return escaped;
}

} // namespace

std::vector<TimelineFrame> timelineOf(const model::ReviewScript& script,
                                      const model::ClipTime& time, double rate) {
    std::vector<TimelineFrame> timeline;
    const int last = time.frameCount() - 1;
    for (std::size_t i = 0; i < script.size(); ++i) {
        const model::ScriptStep& step = script[i];
        const int first = std::clamp(step.first, 0, last);
        if (step.kind == model::ScriptStep::Kind::stop) {
            const long count = std::max(1L, std::lround(step.seconds * rate));
            timeline.insert(timeline.end(), static_cast<std::size_t>(count), {first, i});
            continue;
        }
        const int end = std::clamp(step.last, first, last);
        const double start = time.fieldTimes()[static_cast<std::size_t>(first)].value;
        // The last frame is seen as long as the one before it.
        const double length =
            model::elapsed(time, first, end).value + model::frameInterval(time, end).value;
        const long count = std::max(1L, std::lround(length / step.speed * rate));
        for (long n = 0; n < count; ++n) {
            const double at = start + static_cast<double>(n) / rate * step.speed;
            constexpr double rounding = 1e-9;
            timeline.push_back(
                {std::clamp(model::frameAtFieldTime(time, model::Seconds(at + rounding)), first,
                            end),
                 i});
        }
    }
    return timeline;
}

std::optional<int> matchingFrame(const model::Rep& rep, int frame, const model::Rep& other) {
    std::map<int, int> pairs; // frame of the rep → frame of the other
    for (const auto& [position, at] : model::allPositions(rep)) {
        if (const auto there = model::frameOf(other, position)) {
            pairs[at] = *there;
        }
    }
    const bool ordered =
        std::is_sorted(pairs.begin(), pairs.end(),
                       [](const auto& a, const auto& b) { return a.second < b.second; });
    if (pairs.size() < 2 || !ordered) {
        return std::nullopt;
    }
    auto after = pairs.upper_bound(frame);
    if (after == pairs.begin()) {
        ++after;
    } else if (after == pairs.end()) {
        --after;
    }
    const auto before = std::prev(after);
    const double part = static_cast<double>(frame - before->first) / (after->first - before->first);
    return static_cast<int>(std::lround(
        std::lerp(static_cast<double>(before->second), static_cast<double>(after->second), part)));
}

std::vector<CaptionSpan> captionsOf(const model::ReviewScript& script,
                                    const std::vector<TimelineFrame>& timeline, double rate) {
    std::vector<CaptionSpan> captions;
    for (std::size_t n = 0; n < timeline.size();) {
        std::size_t end = n;
        while (end < timeline.size() && timeline[end].step == timeline[n].step) {
            ++end;
        }
        const std::string& text = script[timeline[n].step].caption;
        if (!text.empty()) {
            captions.push_back({model::Seconds(static_cast<double>(n) / rate),
                                model::Seconds(static_cast<double>(end) / rate), text});
        }
        n = end;
    }
    return captions;
}

std::string subRip(const std::vector<CaptionSpan>& captions) {
    std::string text;
    int number = 0;
    for (const CaptionSpan& caption : captions) {
        text += std::to_string(++number) + "\n" + clock(caption.from, ',') + " --> " +
                clock(caption.to, ',') + "\n" + withoutEmptyLines(caption.text) + "\n\n";
    }
    return text;
}

std::string webVtt(const std::vector<CaptionSpan>& captions) {
    std::string text = "WEBVTT\n\n";
    for (const CaptionSpan& caption : captions) {
        text += clock(caption.from, '.') + " --> " + clock(caption.to, '.') + "\n" +
                escapedForVtt(withoutEmptyLines(caption.text)) + "\n\n";
    }
    return text;
}

} // namespace kestrel::report
