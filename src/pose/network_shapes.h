#pragma once

#include "model/message.h"
#include "pose/network_graph.h"

namespace kestrel::pose {

/// Why a step's tensors do not fit one another, for instance a convolution whose declared result is
/// larger than what it computes; empty when they do. Running only graphs that pass keeps every
/// operation inside the memory of its tensors.
model::Message misfit(const NetworkGraph& graph);

} // namespace kestrel::pose
