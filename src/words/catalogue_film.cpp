#include "words/catalogue.h"

#include <array>

/// What the film check says of a film.
namespace kestrel::words {

std::span<const Entry> filmEntries() {
    static constexpr std::array entries{
        Entry{"film.size",
              QT_TRANSLATE_NOOP("Message",
                                "The player is about %1 pixels tall. Careful clicks leave the %2 "
                                "unsure by ±%3°.")},
        Entry{"film.come_nearer",
              QT_TRANSLATE_NOOP("Message",
                                "Come nearer or zoom in, so that the player fills most of the "
                                "height.")},
        Entry{"film.frames", QT_TRANSLATE_NOOP("Message", "A frame every %1 ms (%2 a second).")},
        Entry{"film.more_frames",
              QT_TRANSLATE_NOOP("Message", "%1 would show the fastest part better.")},
        Entry{"film.too_few_frames",
              QT_TRANSLATE_NOOP("Message", "The fastest part is missed; film it at %1.")},
        Entry{"film.blur_px",
              QT_TRANSLATE_NOOP("Message",
                                "The %1 goes up to %2 pixels from frame to frame and blurs by that "
                                "much when the shutter stays open.")},
        Entry{"film.blur",
              QT_TRANSLATE_NOOP("Message", "The %1 blurs when the shutter stays open.")},
        Entry{"film.blur_cost",
              QT_TRANSLATE_NOOP("Message",
                                "That costs up to ±%1° in the %2; a shutter of %3 keeps it to "
                                "±%4°.")},
        Entry{"film.blown",
              QT_TRANSLATE_NOOP("Message",
                                "%1 % of the picture is white without detail; limbs in it cannot "
                                "be found. Film with the sun behind you.")},
        Entry{"film.dark",
              QT_TRANSLATE_NOOP("Message",
                                "The film is dark. A phone then keeps its shutter open longer, so "
                                "expect blur; film in brighter light.")},
        Entry{"film.light_right", QT_TRANSLATE_NOOP("Message", "The light is right.")},
        Entry{"film.camera_not_followed",
              QT_TRANSLATE_NOOP("Message",
                                "The background shows too little to tell whether the camera "
                                "moved.")},
        Entry{"film.camera_still", QT_TRANSLATE_NOOP("Message", "The camera stood still.")},
        Entry{"film.camera_moved",
              QT_TRANSLATE_NOOP("Message",
                                "The camera moved by up to %1 pixels and shook by %2. Measure "
                                "paths and drifts against the background.")},
        Entry{"film.cuts",
              QT_TRANSLATE_N_NOOP("Message", "The film is cut %n time(s); no rep goes on over a "
                                             "cut.")},
        Entry{"film.dark_stretches",
              QT_TRANSLATE_N_NOOP("Message", "%n dark or fading stretch(es) are left out.")},
        Entry{"film.held",
              QT_TRANSLATE_N_NOOP("Message",
                                  "One picture is held %n time(s), for %2 s in all. A duration "
                                  "over that is too long by as much.")},
        Entry{"film.repeated",
              QT_TRANSLATE_NOOP("Message",
                                "%1 % of the frames only show the one before again: there are "
                                "about %2 pictures a second, no more.")},
        Entry{"film.graphics",
              QT_TRANSLATE_N_NOOP("Message",
                                  "%n graphic(s) are laid over the picture; what moves there does "
                                  "not count.")},
        Entry{"film.bars", QT_TRANSLATE_NOOP("Message", "Black bars fill %1 % of the picture.")},
        Entry{"shown.readable", QT_TRANSLATE_NOOP("Message", "can be read")},
        Entry{"shown.bracketed", QT_TRANSLATE_NOOP("Message", "only bracketed")},
        Entry{"shown.not_seen", QT_TRANSLATE_NOOP("Message", "not seen")},
        Entry{"shutter.part", QT_TRANSLATE_NOOP("Message", "1/%1 s")},
        Entry{"shutter.seconds", QT_TRANSLATE_NOOP("Message", "%1 s")},
    };
    return entries;
}

} // namespace kestrel::words
