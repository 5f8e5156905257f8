#include "cli/progress_line.h"

#include <unistd.h>

#include <iostream>

namespace kestrel::cli {

ProgressLine::ProgressLine() : watched_(isatty(STDERR_FILENO) != 0) {}

ProgressLine::~ProgressLine() {
    if (begun_) {
        std::cerr << '\n';
    }
}

void ProgressLine::show(const std::string& text) {
    if (watched_) {
        std::cerr << '\r' << text << ' ' << std::flush;
        begun_ = true;
    }
}

} // namespace kestrel::cli
