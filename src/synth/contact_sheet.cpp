#include "synth/contact_sheet.h"

#include <algorithm>

namespace kestrel::synth {

namespace {

/// Zoomed in as far as raised hands and implements allow; the camera looks at 0.58 of the height.
double bodyFractionFor(const PlayerMotion& motion) {
    double top = 1.0;
    for (const std::string& position : motion.sheet().positions) {
        const Pose pose = motion.pose(motion.events().at(position));
        for (const model::Landmark landmark : model::allLandmarks()) {
            if (pose.has(landmark) && landmark != model::Landmark::ball) {
                top = std::max(top, pose.at(landmark).z() / motion.heightM());
            }
        }
    }
    constexpr double aim = 0.58;
    constexpr double half = 0.46; // of the picture, with a margin
    return std::min(0.62, half / (top - aim));
}

FilmSpec posed(const PlayerSpec& player, const Outfit& outfit, model::View view, int width,
               int height) {
    FilmSpec spec;
    spec.player = player;
    spec.outfit = outfit;
    spec.camera.view = view;
    spec.camera.bodyFraction = bodyFractionFor(PlayerMotion(player));
    spec.camera.pans = true;
    if (view == model::View::front || view == model::View::rear) {
        spec.camera.distanceM = 4.6; // nearer than basket, goal and net
    }
    spec.width = width;
    spec.height = height;
    spec.captureRate = 1000.0; // so that a frame is the position to a millisecond
    return spec;
}

} // namespace

film::Picture contactSheet(const PlayerSpec& player, const Outfit& outfit,
                           const std::vector<model::View>& views, int cellWidth, int cellHeight) {
    film::Picture sheet;
    std::size_t row = 0;
    for (const model::View view : views) {
        const FrameRenderer renderer(posed(player, outfit, view, cellWidth, cellHeight));
        const auto& positions = renderer.scene().motion().sheet().positions;
        sheet.width = cellWidth * static_cast<int>(positions.size());
        sheet.height = cellHeight * static_cast<int>(views.size());
        sheet.pixels.resize(static_cast<std::size_t>(sheet.width) * sheet.height);
        for (std::size_t column = 0; column < positions.size(); ++column) {
            const double time = renderer.scene().motion().events().at(positions[column]);
            const film::Picture cell = renderer.frame(renderer.scene().frameAt(time));
            for (int y = 0; y < cellHeight; ++y) {
                std::copy_n(cell.pixels.begin() + static_cast<std::ptrdiff_t>(y) * cellWidth,
                            cellWidth,
                            sheet.pixels.begin() +
                                static_cast<std::ptrdiff_t>(row * cellHeight + y) * sheet.width +
                                static_cast<std::ptrdiff_t>(column) * cellWidth);
            }
        }
        ++row;
    }
    return sheet;
}

std::map<std::string, film::Picture> positionPictures(const PlayerSpec& player,
                                                      const Outfit& outfit, model::View view,
                                                      int width, int height,
                                                      const std::function<bool()>& goOn) {
    const FrameRenderer renderer(posed(player, outfit, view, width, height));
    std::map<std::string, film::Picture> pictures;
    for (const auto& [id, time] : renderer.scene().motion().events()) {
        if (goOn && !goOn()) {
            return {};
        }
        pictures.emplace(id, renderer.frame(renderer.scene().frameAt(time)));
    }
    return pictures;
}

std::optional<film::Picture> positionPicture(const PlayerSpec& player, const Outfit& outfit,
                                             model::View view, int width, int height,
                                             const std::string& id) {
    const FrameRenderer renderer(posed(player, outfit, view, width, height));
    const auto& events = renderer.scene().motion().events();
    const auto event = events.find(id);
    if (event == events.end()) {
        return std::nullopt;
    }
    return renderer.frame(renderer.scene().frameAt(event->second));
}

} // namespace kestrel::synth
