#pragma once

/// How the times of two films of one motion go together.
namespace kestrel::model {

/// How much later an instant stands in the second film's time than in the first one's.
struct SyncOffset {
    double seconds = 0.0;
    double sd = 0.0; ///< seconds

    friend bool operator==(const SyncOffset&, const SyncOffset&) = default;
};

} // namespace kestrel::model
