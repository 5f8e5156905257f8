#include "report/palette.h"

namespace kestrel::report {

QColor roleColour(model::Role role) {
    switch (role) {
    case model::Role::throwingSide:
        return {0xF0, 0x8C, 0x5A};
    case model::Role::otherSide:
        return {0x8F, 0xC4, 0xE8};
    case model::Role::trunk:
        return {0xFF, 0xE9, 0xB8};
    case model::Role::reference:
        return {0xF2, 0xF2, 0xEE};
    }
    return cream;
}

QColor verdictColour(model::Verdict verdict) {
    switch (verdict) {
    case model::Verdict::inside:
        return {0x1F, 0x6E, 0x68};
    case model::Verdict::edge:
        return {0x8A, 0x64, 0x10};
    case model::Verdict::outside:
        return {0xA3, 0x36, 0x1F};
    case model::Verdict::reported:
        return slate;
    case model::Verdict::unreadable:
        return {0x6B, 0x70, 0x76};
    }
    return slate;
}

const char* verdictSign(model::Verdict verdict) {
    switch (verdict) {
    case model::Verdict::inside:
        return "●";
    case model::Verdict::edge:
        return "◆";
    case model::Verdict::outside:
        return "▲";
    case model::Verdict::reported:
        return "○";
    case model::Verdict::unreadable:
        return "–";
    }
    return "";
}

} // namespace kestrel::report
