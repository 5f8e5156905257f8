#include "track/files/landmark_csv.h"

#include "model/input_error.h"

#include <csv.h>

#include <charconv>
#include <cmath>
#include <fstream>
#include <iterator>
#include <memory>
#include <ostream>
#include <string>
#include <vector>

namespace kestrel::track {
namespace {

using Row = std::vector<std::string>;

std::vector<Row> parseRows(const std::string& text) {
    struct State {
        std::vector<Row> rows;
        Row row;
    } state;
    csv_parser parser{};
    csv_init(&parser, CSV_APPEND_NULL);
    const auto freeParser = [](csv_parser* p) { csv_free(p); };
    const std::unique_ptr<csv_parser, decltype(freeParser)> guard(&parser, freeParser);
    const auto field = [](void* data, std::size_t size, void* user) {
        static_cast<State*>(user)->row.emplace_back(static_cast<const char*>(data), size);
    };
    const auto endOfRow = [](int, void* user) {
        auto* s = static_cast<State*>(user);
        s->rows.push_back(std::move(s->row));
        s->row.clear();
    };
    csv_parse(&parser, text.data(), text.size(), field, endOfRow, &state);
    csv_fini(&parser, field, endOfRow, &state);
    return std::move(state.rows);
}

class CsvReader {
  public:
    CsvReader(std::filesystem::path file, std::vector<Row> rows)
        : file_(std::move(file)), rows_(std::move(rows)) {
        if (rows_.empty()) {
            fail(model::message("landmarks.no_rows"));
        }
        frame_ = column("frame");
        landmark_ = column("landmark");
        x_ = column("x_px");
        y_ = column("y_px");
        sd_ = column("sd_px", false);
        source_ = column("source", false);
        hidden_ = column("hidden", false);
        occluded_ = column("covered", false);
    }

    model::LandmarkTrack read() {
        model::LandmarkTrack track;
        for (at_ = 1; at_ < rows_.size(); ++at_) {
            const auto landmark = model::landmarkFromName(text(landmark_));
            if (!landmark) {
                fail(model::message("landmarks.unknown", text(landmark_)));
            }
            const double frame = number(frame_);
            if (frame < 0.0 || frame != std::floor(frame) || frame > 1e8) {
                fail(model::message("landmarks.no_frame", text(frame_)));
            }
            model::LandmarkPoint point;
            point.hidden = yes(hidden_, "hidden");
            point.occluded = yes(occluded_, "covered");
            if (!point.hidden || !text(x_).empty()) {
                point.px = {number(x_), number(y_)};
            }
            if (has(sd_)) {
                point.sdPx = number(sd_);
                if (point.sdPx < 0.0) {
                    fail(model::message("landmarks.negative_sd"));
                }
            }
            if (has(source_)) {
                const auto source = model::sourceFromName(text(source_));
                if (!source) {
                    fail(model::message("landmarks.no_source", text(source_)));
                }
                point.source = *source;
            }
            track[static_cast<int>(frame)][*landmark] = point;
        }
        return track;
    }

  private:
    /// A column of 0 and 1; no when it is missing.
    bool yes(std::size_t column, const std::string& name) const {
        if (has(column) && text(column) != "0" && text(column) != "1") {
            fail(model::message("landmarks.not_a_flag", name, text(column)));
        }
        return has(column) && text(column) == "1";
    }

    [[noreturn]] void fail(model::Message why) const {
        throw model::InputError(
            model::message("landmarks.row", file_.filename().string(), at_ + 1, std::move(why)),
            model::message("safe.nothing_taken"), model::message("todo.mend_row"));
    }

    std::size_t column(const std::string& title, bool needed = true) const {
        const Row& header = rows_.front();
        for (std::size_t i = 0; i < header.size(); ++i) {
            if (header[i] == title) {
                return i;
            }
        }
        if (needed) {
            fail(model::message("landmarks.column_missing", title));
        }
        return absent;
    }

    [[nodiscard]] bool has(std::size_t column) const {
        return column != absent && !text(column).empty();
    }

    [[nodiscard]] const std::string& text(std::size_t column) const {
        const Row& row = rows_[at_];
        if (column >= row.size()) {
            fail(model::message("landmarks.too_few_columns", row.size()));
        }
        return row[column];
    }

    [[nodiscard]] double number(std::size_t column) const {
        const std::string& digits = text(column);
        double value = 0.0;
        const auto [end, error] =
            std::from_chars(digits.data(), digits.data() + digits.size(), value);
        if (error != std::errc() || end != digits.data() + digits.size() || !std::isfinite(value)) {
            fail(model::message("landmarks.no_number", digits));
        }
        return value;
    }

    static constexpr std::size_t absent = static_cast<std::size_t>(-1);
    std::filesystem::path file_;
    std::vector<Row> rows_;
    std::size_t at_ = 0;
    std::size_t frame_ = 0;
    std::size_t landmark_ = 0;
    std::size_t x_ = 0;
    std::size_t y_ = 0;
    std::size_t sd_ = absent;
    std::size_t source_ = absent;
    std::size_t hidden_ = absent;
    std::size_t occluded_ = absent;
};

std::string shortest(double value) {
    std::string text(32, '\0');
    const auto [end, error] =
        std::to_chars(text.data(), text.data() + text.size(), value, std::chars_format::fixed, 4);
    text.resize(error == std::errc() ? static_cast<std::size_t>(end - text.data()) : 0);
    return text;
}

} // namespace

void writeLandmarks(std::ostream& out, const model::LandmarkTrack& track,
                    const model::ClipTime& time) {
    out << "frame,time_s,landmark,x_px,y_px,sd_px,source,hidden,covered\n";
    for (const auto& [frame, points] : track) {
        for (const auto& [landmark, point] : points) {
            out << frame << ',' << shortest(model::elapsed(time, 0, frame).value) << ','
                << name(landmark) << ',';
            if (!point.hidden) {
                out << shortest(point.px.x) << ',' << shortest(point.px.y);
            } else {
                out << ',';
            }
            out << ',' << shortest(point.sdPx) << ',' << name(point.source) << ','
                << (point.hidden ? 1 : 0) << ',' << (point.occluded ? 1 : 0) << '\n';
        }
    }
}

model::LandmarkTrack readLandmarks(const std::filesystem::path& file) {
    std::ifstream in(file, std::ios::binary);
    if (!in) {
        throw model::InputError(model::message("file.unreadable", file.string()),
                                model::message("safe.nothing_changed"),
                                model::message("todo.check_it_is_there"));
    }
    const std::string text{std::istreambuf_iterator<char>(in), std::istreambuf_iterator<char>()};
    return CsvReader(file, parseRows(text)).read();
}

} // namespace kestrel::track
