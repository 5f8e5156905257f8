#pragma once

#include "film/picture.h"

#include <cstddef>
#include <cstdint>
#include <vector>

namespace kestrel::film {

/// The pictures of a film as blocks of brightness: enough to tell what an editor did to it, at
/// about one and a half kilobytes a frame, so that ten minutes at 60 a second take some 50 MB.
class BlockSeries {
  public:
    explicit BlockSeries(int frameCount);

    /// Frames come in order; one left out, a damaged one, stays as the one before.
    void add(int frame, const GrayPicture& picture);

    [[nodiscard]] std::size_t frames() const { return frames_; }
    [[nodiscard]] std::size_t columns() const { return columns_; }
    [[nodiscard]] std::size_t rows() const { return rows_; }
    [[nodiscard]] std::size_t blocks() const { return columns_ * rows_; }

    /// Mean brightness of a block, steps of 255.
    [[nodiscard]] double level(std::size_t frame, std::size_t block) const {
        return levels_[frame * blocks() + block] / levelScale;
    }
    /// Mean change of a block's pixels against the frame before, steps of 255, up to 63.
    [[nodiscard]] double change(std::size_t frame, std::size_t block) const {
        return changes_[frame * blocks() + block] / changeScale;
    }

    /// Of a whole picture, steps of 255.
    struct Whole {
        double mean = 0.0;
        double contrast = 0.0; ///< from the darkest tenth of the blocks to the brightest
        double busiest = 0.0;  ///< mean change of the busiest twelfth
        double most = 0.0;     ///< change of the block that changed most
        double middle = 0.0;   ///< median change: what all of the picture does
    };
    [[nodiscard]] const Whole& whole(std::size_t frame) const { return wholes_[frame]; }

    /// Side of a block, pixels of the pictures that were added.
    static constexpr int side = 16;

  private:
    static constexpr double levelScale = 256.0;
    static constexpr double changeScale = 4.0;

    void measureWhole(std::size_t frame);

    std::size_t frames_;
    std::size_t next_ = 0; ///< frames up to it are filled
    std::size_t columns_ = 0;
    std::size_t rows_ = 0;
    std::vector<std::uint16_t> levels_; ///< frame by frame
    std::vector<std::uint8_t> changes_;
    std::vector<Whole> wholes_;
    GrayPicture before_;
};

/// Whether nothing changes from the frame before to this one but what an encoder makes.
bool isStill(const BlockSeries& series, std::size_t frame);

/// Change of the busiest twelfth of the picture above which something moves in earnest, measured
/// against the strongest movement of the film.
double clearMovement(const BlockSeries& series);

} // namespace kestrel::film
