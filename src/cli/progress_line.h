#pragma once

#include <string>

namespace kestrel::cli {

/// A line that tells a person at a terminal how far long work is, written over itself on standard
/// error. Where standard error is no terminal, such as in a log, nothing is written.
class ProgressLine {
  public:
    ProgressLine();
    /// Ends the line, so that what follows stands on its own.
    ~ProgressLine();
    ProgressLine(const ProgressLine&) = delete;
    ProgressLine& operator=(const ProgressLine&) = delete;

    void show(const std::string& text);

  private:
    bool watched_;
    bool begun_ = false;
};

} // namespace kestrel::cli
