#pragma once

#include "film/picture.h"
#include "pose/network.h"
#include "pose/pose_region.h"

#include <filesystem>
#include <vector>

namespace kestrel::pose {

/// A person the detector sees in a picture.
struct Person {
    model::Point2 corner; ///< of the box around head and trunk, source pixels
    model::Point2 opposite;
    PoseRegion region; ///< where the pose network should look
    double score = 0.0;
};

/// Finds people in a picture (the detector of the pose networks, 224 × 224). People smaller than
/// about a sixth of the picture's longer side are not found. Not thread-safe.
class PersonDetector {
  public:
    /// Throws model::InputError when `file` cannot be used.
    explicit PersonDetector(const std::filesystem::path& file, int threads = 1);

    /// The people in `picture`, surest first.
    std::vector<Person> people(const film::Picture& picture);

    /// The people in the square `window` of the picture: finds smaller ones there.
    std::vector<Person> people(const film::Picture& picture, const PoseRegion& window);

  private:
    Network network_;
};

} // namespace kestrel::pose
