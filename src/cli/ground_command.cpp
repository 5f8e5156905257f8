#include "cli/commands.h"
#include "cli/output.h"
#include "cli/pack_by_id.h"
#include "film/film_index.h"
#include "model/input_error.h"
#include "technique/pack/ground_json.h"
#include "words/words.h"

#include <cstdio>
#include <memory>

namespace kestrel::cli {
namespace {

struct GroundOptions {
    std::string film;
    std::string marks;
    std::string pack = "overhand_pitch";
    std::string view;
    std::vector<double> from; ///< x, y of two spots, to measure between
    bool json = false;
};

void ground(const GroundOptions& o) {
    const film::FilmIndex index = film::buildIndex(o.film);
    const technique::Pack pack = packById(o.pack);
    const model::GroundMarks marks = technique::readGroundMarks(pack, o.marks);
    const auto known =
        technique::groundOf(pack, marks, index.width, index.height, model::viewFromName(o.view));
    if (!known.ground) {
        throw model::InputError(model::message("ground.not_told", o.marks),
                                model::message("safe.nothing_changed"), known.reason);
    }
    const motion::GroundFit& fit = known.ground->fit;
    nlohmann::json points = nlohmann::json::object();
    std::size_t number = 0;
    for (const technique::GroundPoint& point : known.ground->place.points) {
        if (marks.points.contains(point.id)) {
            const model::Point2 miss = fit.residuals[number++];
            points[point.id] = {{"residual_px", {miss.x, miss.y}}};
        }
    }
    const auto horizon = fit.camera.horizonY();
    nlohmann::json result{
        {"place", known.ground->place.id},
        {"residual_px", fit.residualPx},
        {"points", points},
        {"camera_height_m", fit.camera.position.z()},
        {"camera_m", {fit.camera.position.x(), fit.camera.position.y()}},
        {"focal_px", fit.camera.focalPx},
        {"distortion", fit.camera.distortion},
        {"roll_deg", fit.camera.roll().value},
        {"horizon_y", horizon ? nlohmann::json(*horizon) : nlohmann::json(nullptr)}};
    constexpr std::size_t twoSpots = 4;
    if (o.from.size() == twoSpots) {
        const auto length = technique::lengthOnGround(*known.ground, {o.from[0], o.from[1]},
                                                      {o.from[2], o.from[3]});
        result["between_m"] = length ? nlohmann::json(length->metres) : nlohmann::json(nullptr);
        result["between_u95_m"] =
            length ? nlohmann::json(model::coverage95 * length->sd) : nlohmann::json(nullptr);
    }
    if (o.json) {
        printJson(result);
        return;
    }
    std::printf("%s: the marks fit within %.1f pixels\n",
                words::plain(known.ground->place.name).c_str(), fit.residualPx);
    std::printf("camera %.2f m above the ground, at %.2f m along and %.2f m beside, roll %.1f°\n",
                fit.camera.position.z(), fit.camera.position.x(), fit.camera.position.y(),
                fit.camera.roll().value);
    if (result.contains("between_m") && !result["between_m"].is_null()) {
        std::printf("between the two spots: %.2f ± %.2f m\n", result["between_m"].get<double>(),
                    result["between_u95_m"].get<double>());
    }
}

} // namespace

void addGroundCommand(CLI::App& program) {
    auto o = std::make_shared<GroundOptions>();
    auto* command = program.add_subcommand(
        "ground", "Where the camera stood, from points of known size on the ground");
    command->add_option("FILE", o->film, "Film")->required();
    command->add_option("--ground", o->marks, "Marks on the ground, JSON")->required();
    command->add_option("--pack", o->pack, "Technique pack id")->capture_default_str();
    command->add_option("--view", o->view, "Where the camera stood")
        ->check(CLI::IsMember({"open_side", "closed_side", "front", "rear", "overhead"}));
    command->add_option("--between", o->from, "Two spots in the picture: x y x y")->expected(4);
    command->add_flag("--json", o->json, "Print JSON");
    command->callback([o] { ground(*o); });
}

} // namespace kestrel::cli
