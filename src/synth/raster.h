#pragma once

#include "synth/camera.h"

#include <Eigen/Core>

#include <array>
#include <cstdint>
#include <vector>

/// A small z-buffer renderer for shaded triangle meshes.
namespace kestrel::synth {

/// Linear light, red, green and blue, 1 for full white.
using Colour = Eigen::Vector3f;

struct Vertex {
    Vector at;     ///< world, metres
    Vector normal; ///< unit length, outwards
};

/// A closed surface of one colour.
struct Mesh {
    Colour albedo = Colour::Constant(0.5F);
    std::vector<Vertex> vertices;
    std::vector<std::array<std::uint32_t, 3>> triangles;
};

/// Sun and sky.
struct Light {
    Vector toSun = Vector(0.35, -0.55, 0.76).normalized();
    Colour sun = {1.05F, 1.0F, 0.9F};
    Colour sky = {0.42F, 0.48F, 0.56F};
};

/// Light sent out by a surface of `albedo` with that normal: Lambert's law under sun and sky.
Colour shaded(const Colour& albedo, const Vector& normal, const Light& light);

/// `a` and `b` mixed: `a` alone where t is 0 or less, `b` where it is 1 or more.
Colour mixed(const Colour& a, const Colour& b, double t);

/// A rectangle of a picture with depth.
class Canvas {
  public:
    /// Covers pixels [left, left + width) × [top, top + height) of the camera's picture.
    Canvas(int left, int top, int width, int height);

    void clear();

    /// Draws a mesh; `shift` moves it by a fraction of a pixel, for anti-aliasing by averaging.
    void draw(const Mesh& mesh, const Camera& camera, const Light& light, model::Point2 shift);

    /// Marks where the mesh's shadow falls on the ground z = 0.
    void drawShadow(const Mesh& mesh, const Camera& camera, const Light& light,
                    model::Point2 shift);

    [[nodiscard]] int left() const { return left_; }
    [[nodiscard]] int top() const { return top_; }
    [[nodiscard]] int width() const { return width_; }
    [[nodiscard]] int height() const { return height_; }

    /// By offset y · width + x inside the canvas.
    [[nodiscard]] bool covered(std::size_t offset) const { return nearness_[offset] > 0.0F; }
    [[nodiscard]] float nearness(std::size_t offset) const { return nearness_[offset]; }
    [[nodiscard]] const Colour& colour(std::size_t offset) const { return colour_[offset]; }
    [[nodiscard]] bool inShadow(std::size_t offset) const { return shadow_[offset] != 0; }

  private:
    struct Corner {
        double x;
        double y;
        float nearness;
        Colour colour;
    };
    /// Calls paint(offset, corner weights) for every pixel centre inside the triangle.
    template <class Paint>
    void fill(const Corner& a, const Corner& b, const Corner& c, const Paint& paint) const;

    int left_;
    int top_;
    int width_;
    int height_;
    std::vector<float> nearness_; ///< 1 / depth of what is drawn, 0 where nothing is
    std::vector<Colour> colour_;
    std::vector<std::uint8_t> shadow_;
};

} // namespace kestrel::synth
