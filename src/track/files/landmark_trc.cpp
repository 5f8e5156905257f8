#include "track/files/landmark_trc.h"

#include "model/input_error.h"

#include <charconv>
#include <cmath>
#include <fstream>
#include <iomanip>
#include <optional>
#include <ostream>
#include <set>
#include <sstream>
#include <string>
#include <vector>

namespace kestrel::track {
namespace {

using model::Landmark;

constexpr std::size_t headerLines = 5; ///< before the empty line and the table
constexpr std::size_t firstMarker = 2; ///< column; Frame# and Time stand before
constexpr std::size_t axes = 3;        ///< columns a marker

std::vector<std::string> cells(std::string line) {
    if (!line.empty() && line.back() == '\r') {
        line.pop_back();
    }
    std::vector<std::string> row;
    std::istringstream stream(line);
    for (std::string cell; std::getline(stream, cell, '\t');) {
        row.push_back(cell);
    }
    return row;
}

class TrcReader {
  public:
    explicit TrcReader(const std::filesystem::path& file) : file_(file), stream_(file) {
        if (!stream_) {
            throw model::InputError(model::message("file.unreadable", file.string()),
                                    model::message("safe.nothing_changed"),
                                    model::message("todo.check_it_is_there"));
        }
    }

    model::LandmarkTrack read() {
        std::vector<std::vector<std::string>> header;
        while (header.size() < headerLines) {
            header.push_back(next());
        }
        if (header[0].empty() || header[0][0] != "PathFileType") {
            fail(model::message("landmarks.no_trc"));
        }
        line_ = headerLines - 1;
        for (std::size_t column = firstMarker; column < header[3].size(); column += axes) {
            markers_.push_back(model::landmarkFromName(header[3][column]));
        }
        line_ = headerLines;
        model::LandmarkTrack track;
        std::string text;
        while (std::getline(stream_, text)) {
            ++line_;
            const std::vector<std::string> row = cells(text);
            if (!row.empty()) {
                readRow(row, track);
            }
        }
        return track;
    }

  private:
    void readRow(const std::vector<std::string>& row, model::LandmarkTrack& track) const {
        const double frame = number(row[0]);
        constexpr double mostFrames = 1e8;
        if (frame < 1.0 || frame != std::floor(frame) || frame > mostFrames) {
            fail(model::message("landmarks.no_frame", row[0]));
        }
        for (std::size_t marker = 0; marker < markers_.size(); ++marker) {
            const std::size_t x = firstMarker + axes * marker;
            if (!markers_[marker] || x + 1 >= row.size() || row[x].empty()) {
                continue;
            }
            track[static_cast<int>(frame) - 1][*markers_[marker]] = {
                {number(row[x]), number(row[x + 1])}, importedPointSd, model::Source::tracked};
        }
    }

    std::vector<std::string> next() {
        ++line_;
        std::string text;
        if (!std::getline(stream_, text)) {
            fail(model::message("landmarks.ends_in_head"));
        }
        return cells(text);
    }

    [[nodiscard]] double number(const std::string& text) const {
        double value = 0.0;
        const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
        if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(value)) {
            fail(model::message("landmarks.no_number", text));
        }
        return value;
    }

    [[noreturn]] void fail(model::Message why) const {
        throw model::InputError(
            model::message("landmarks.line", file_.filename().string(), line_, std::move(why)),
            model::message("safe.nothing_taken"), model::message("todo.mend_line"));
    }

    std::filesystem::path file_;
    std::ifstream stream_;
    std::size_t line_ = 0;
    std::vector<std::optional<Landmark>> markers_;
};

} // namespace

void writeTrc(std::ostream& out, const model::LandmarkTrack& track, const model::ClipTime& time) {
    std::set<Landmark> markers;
    for (const auto& [frame, points] : track) {
        for (const auto& [landmark, point] : points) {
            markers.insert(landmark);
        }
    }
    const int first = track.empty() ? 0 : track.begin()->first;
    const int last = track.empty() ? -1 : track.rbegin()->first;
    const int frames = last - first + 1;
    const double span = frames > 1 ? model::elapsed(time, first, last).value : 0.0;
    const double rate = span > 0.0 ? (frames - 1) / span : 0.0;
    out << std::fixed << std::setprecision(4);
    out << "PathFileType\t4\t(X/Y/Z)\tlandmarks.trc\n"
           "DataRate\tCameraRate\tNumFrames\tNumMarkers\tUnits\tOrigDataRate\tOrigDataStartFrame\t"
           "OrigNumFrames\n"
        << rate << '\t' << rate << '\t' << frames << '\t' << markers.size() << "\tpx\t" << rate
        << '\t' << first + 1 << '\t' << frames << "\nFrame#\tTime";
    for (const Landmark marker : markers) {
        out << '\t' << name(marker) << "\t\t";
    }
    out << "\n\t";
    for (std::size_t i = 1; i <= markers.size(); ++i) {
        out << "\tX" << i << "\tY" << i << "\tZ" << i;
    }
    out << "\n\n";
    for (int frame = first; frame <= last; ++frame) {
        out << frame + 1 << '\t' << model::elapsed(time, 0, frame).value;
        for (const Landmark marker : markers) {
            const model::LandmarkPoint* point = model::find(track, frame, marker);
            if (point == nullptr || point->hidden) {
                out << "\t\t\t";
            } else {
                out << '\t' << point->px.x << '\t' << point->px.y << "\t0.0000";
            }
        }
        out << '\n';
    }
}

model::LandmarkTrack readTrc(const std::filesystem::path& file) {
    return TrcReader(file).read();
}

} // namespace kestrel::track
