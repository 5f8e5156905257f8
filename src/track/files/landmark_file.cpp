#include "track/files/landmark_file.h"

#include "model/input_error.h"
#include "track/files/landmark_csv.h"
#include "track/files/landmark_trc.h"

#include <fstream>

namespace kestrel::track {
namespace {

bool isTrc(const std::filesystem::path& file) {
    return file.extension() == ".trc";
}

} // namespace

void writeLandmarkFile(const std::filesystem::path& file, const model::LandmarkTrack& track,
                       const model::ClipTime& time) {
    std::ofstream out(file);
    isTrc(file) ? writeTrc(out, track, time) : writeLandmarks(out, track, time);
    if (!out.flush()) {
        throw model::InputError(model::message("file.unwritable", file.string()),
                                model::message("safe.nothing_changed"),
                                model::message("todo.choose_other_place"));
    }
}

model::LandmarkTrack readLandmarkFile(const std::filesystem::path& file) {
    return isTrc(file) ? readTrc(file) : readLandmarks(file);
}

} // namespace kestrel::track
