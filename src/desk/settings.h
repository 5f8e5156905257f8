#pragma once

#include "desk/problems.h"
#include "records/library.h"

#include <string>

namespace kestrel::desk {

/// Small things that the library remembers for the coach: the paper, the station, where he was.
/// A thing that cannot be kept now is no reason to stop: it is told once and tried again next time.
class Settings {
  public:
    Settings(records::Library& library, Problems& problems)
        : library_(library), problems_(problems) {}

    /// Empty when never set.
    [[nodiscard]] std::string get(const std::string& name) const { return library_.setting(name); }
    void set(const std::string& name, const std::string& value) {
        problems_.trying([&] { library_.setSetting(name, value); });
    }

  private:
    records::Library& library_;
    Problems& problems_;
};

} // namespace kestrel::desk
