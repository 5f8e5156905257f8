#pragma once

#include <filesystem>

namespace kestrel::technique {

/// Where the packs that ship with the program are: share/jolly-kestrel/packs beside an installed
/// program's bin, else packs/ of the source tree it was built from.
std::filesystem::path packDirectory();

} // namespace kestrel::technique
