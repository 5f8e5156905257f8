#include "body/seen_rep.h"

namespace kestrel::body {

bool SeenRep::showsMotion() const {
    constexpr std::size_t fewest = 8;
    constexpr double leastRate = 12.0; // a second
    return instants.size() >= fewest &&
           static_cast<double>(instants.size()) >=
               leastRate * (instants.back().time - instants.front().time).value;
}

} // namespace kestrel::body
