#pragma once

#include <filesystem>

namespace kestrel::desk {
struct Desk;
}

namespace kestrel::app {

class MainWindow;

/// Opens the demo's faulty pitch on the Bench and takes a picture of the window. Throws
/// model::InputError when the picture cannot be written.
void takeWindowPicture(MainWindow& window, desk::Desk& desk, const std::filesystem::path& file);

/// Takes one picture of each main view into `folder`, by pressing what a coach would press.
void takeTour(MainWindow& window, desk::Desk& desk, const std::filesystem::path& folder);

} // namespace kestrel::app
