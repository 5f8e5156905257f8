#pragma once

#include "body/seen_rep.h"

#include <vector>

/// When the ends of the feet stand. Only within this room.
namespace kestrel::body {

/// A heel or toe that does not move in the picture from `first` to `last` instant.
struct Contact {
    model::Landmark end = model::Landmark::leftToe;
    std::size_t first = 0;
    std::size_t last = 0;
};

/// What stands still may be a foot held up: the estimate weighs that.
std::vector<Contact> contacts(const SeenRep& rep, double scalePx);

} // namespace kestrel::body
