#pragma once

#include "pose/network_graph.h"

#include <string>

namespace kestrel::pose {

/// Why a step's tensors do not fit one another, for instance a convolution whose declared result is
/// larger than what it computes; empty when they do. Running only graphs that pass keeps every
/// operation inside the memory of its tensors.
std::string misfit(const NetworkGraph& graph);

} // namespace kestrel::pose
