#include "model/finding.h"

namespace kestrel::model {

std::string_view name(Confidence confidence) {
    switch (confidence) {
    case Confidence::possible:
        return "possible";
    case Confidence::likely:
        return "likely";
    case Confidence::sure:
        return "sure";
    }
    return {};
}

} // namespace kestrel::model
