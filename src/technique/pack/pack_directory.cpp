#include "technique/pack/pack_directory.h"

namespace kestrel::technique {

std::filesystem::path packDirectory() {
    std::error_code status;
    const auto program = std::filesystem::read_symlink("/proc/self/exe", status);
    const auto installed =
        program.parent_path().parent_path() / "share" / "jolly-kestrel" / "packs";
    if (!status && std::filesystem::is_directory(installed, status)) {
        return installed;
    }
    return KESTREL_SOURCE_PACKS;
}

} // namespace kestrel::technique
