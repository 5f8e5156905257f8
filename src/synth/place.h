#pragma once

#include "synth/mesh.h"
#include "synth/raster.h"

#include <cstdint>
#include <functional>
#include <memory>
#include <string_view>
#include <vector>

/// Where the player is filmed: ground with its lines, walls, nets and things, in true size. The
/// player stands at the origin with the target at +x.
namespace kestrel::synth {

/// A line, disc or rectangle painted on the ground. Metres.
struct Paint {
    enum class Shape { line, circle, box };
    Shape shape = Shape::line;
    double x0 = 0.0; ///< line: from; circle: middle; box: a corner
    double y0 = 0.0;
    double x1 = 0.0; ///< line: to; circle: x1 is the radius; box: the corner opposite
    double y1 = 0.0;
    double width = 0.05; ///< of the line or the circle's line; 0 fills a circle
    Colour colour = Colour::Constant(0.75F);
};

/// An upright wall or net: from one ground point to another, between two heights. A wall is seen
/// from its left only, so that a film can be taken from outside a room; a net from both sides.
struct Wall {
    double x0 = 0.0;
    double y0 = 0.0;
    double x1 = 0.0;
    double y1 = 0.0;
    double bottom = 0.0;
    double top = 0.0;
    Colour colour = Colour::Constant(0.5F);
    double cell = 0.0;          ///< a net with meshes so wide instead of a wall; 0 for a wall
    std::vector<Paint> painted; ///< x along the wall, y up
};

struct Place {
    std::string_view name;
    bool indoors = false;
    /// Bare ground at a point, without lines.
    std::function<Colour(double x, double y)> ground;
    std::vector<Paint> paint;
    std::vector<Wall> walls;
    std::vector<Mesh> things; ///< solid: they hide the player and are hidden
    Light light;
};

/// The places, by the names of the motion sheets: "diamond", "infield", "softball_circle",
/// "batting_cage", "hard_court", "serve_court", "net_court", "squash_court", "table_hall",
/// "basket_hall", "rink", "volley_hall". Throws std::invalid_argument for another. `seed` varies
/// grass and trees.
Place placeNamed(std::string_view name, std::uint32_t seed);

/// What the camera sees of the place without its things, in linear light, row by row.
std::vector<Colour> emptyPicture(const Place& place, const Camera& camera, std::uint32_t seed);

} // namespace kestrel::synth
