#include "words/catalogue.h"

#include <array>

/// Why a reading has no value, and what it is made of.
namespace kestrel::words {

std::span<const Entry> readingEntries() {
    static constexpr std::array entries{
        Entry{"position.not_set",
              QT_TRANSLATE_NOOP("Message", "The position “%1” is not set on this rep yet.")},
        Entry{"position.not_set_for_time",
              QT_TRANSLATE_NOOP("Message", "“%1” is not set on this rep yet.")},
        Entry{"landmark.not_placed",
              QT_TRANSLATE_NOOP("Message", "The %1 is not placed at %2 yet.")},
        Entry{"landmark.hidden", QT_TRANSLATE_NOOP("Message", "The %1 is marked hidden at %2.")},
        Entry{"film.capture_rate_unknown",
              QT_TRANSLATE_NOOP("Message",
                                "Say on the Film station how many frames a second the camera "
                                "took.")},
        Entry{"film.view_unknown",
              QT_TRANSLATE_NOOP("Message",
                                "Say on the Film station from where this clip was filmed.")},
        Entry{"film.other_view",
              QT_TRANSLATE_NOOP("Message",
                                "It can be read from the %1; this clip was filmed from the %2, "
                                "where it does not show.")},
        Entry{"stretch", QT_TRANSLATE_NOOP("Message", "%1 to %2")},

        Entry{"height.for_turn",
              QT_TRANSLATE_NOOP("Message",
                                "How far a line has turned shows in how long it looks against the "
                                "player's height, which is not known in this picture: place the "
                                "landmarks of %1 first.")},
        Entry{"height.for_way",
              QT_TRANSLATE_NOOP("Message",
                                "It is measured in body heights, and the player's height in the "
                                "picture is not known: place the landmarks of %1 first.")},
        Entry{"height.for_speed",
              QT_TRANSLATE_NOOP("Message",
                                "Speeds are told in body heights, and the player's height in the "
                                "picture is not known: place the landmarks of %1 first.")},
        Entry{"height.for_centre_of_mass",
              QT_TRANSLATE_NOOP("Message",
                                "How sure the centre of mass is depends on the player's height in "
                                "the picture, which is not known: place the landmarks of %1 "
                                "first.")},
        Entry{"height.because",
              QT_TRANSLATE_NOOP("Message",
                                "It is measured in body heights, and the player's height in the "
                                "picture is not known: %1")},
        Entry{"height.for_foot",
              QT_TRANSLATE_NOOP("Message",
                                "It is told in lengths of the player's foot: say on the Squad "
                                "station how tall the player is.")},
        Entry{"height.for_level_plane",
              QT_TRANSLATE_NOOP("Message",
                                "How high above the ground it moves follows from how tall the "
                                "player is: say so on the Squad station.")},

        Entry{"reading.not_looked_at",
              QT_TRANSLATE_NOOP("Message",
                                "As the program sees it, it is %1, which is too unsure to say "
                                "anything. Look at the landmarks of %2, put right what is off and "
                                "confirm the rest ({confirmAll}): that makes it two to three times "
                                "as sure.")},

        Entry{"line.no_direction",
              QT_TRANSLATE_NOOP("Message",
                                "Two of its points lie on the same spot, so the line between them "
                                "has no direction.")},
        Entry{"line.out_of_plane",
              QT_TRANSLATE_NOOP("Message",
                                "The line from %1 to %2 points about %3 towards or away from the "
                                "camera here, so its angle does not show.")},
        Entry{"line.tilt", QT_TRANSLATE_NOOP("Message", "%1 to %2 points about %3")},
        Entry{"angle.out_of_plane",
              QT_TRANSLATE_NOOP("Message",
                                "The line from %1, that from %2 towards or away from the camera "
                                "here, so their angle does not show.")},
        Entry{"angle.either_fold",
              QT_TRANSLATE_NOOP("Message",
                                "It is about %1 if the %2 is nearer than both its neighbours, or "
                                "farther, and about %3 if it lies between them in depth: say which "
                                "({swapDepth}).")},
        Entry{"turn.hardly_shows",
              QT_TRANSLATE_NOOP("Message",
                                "The line from %1 to %2 lies so that its turn hardly shows from "
                                "here: it may be off by more than %3.")},
        Entry{"turn.either_way",
              QT_TRANSLATE_NOOP(
                  "Message",
                  "The line from %1 to %2 looks the same turned either way, and "
                  "nothing says which end is nearer; Propose does, or you ({swapDepth}). It "
                  "may be off by more than %3.")},
        Entry{"turn.of_hips", QT_TRANSLATE_NOOP("Message", "turn of the hips")},
        Entry{"turn.of_shoulders", QT_TRANSLATE_NOOP("Message", "turn of the shoulders")},
        Entry{"turn.too_few_frames",
              QT_TRANSLATE_NOOP("Message",
                                "The %1 shows in %2 of %3 frames from %4: it needs the landmarks "
                                "in all of them, which Propose brings, and does not show where the "
                                "line lies across the view.")},
        Entry{"turn.peak_not_seen",
              QT_TRANSLATE_NOOP("Message",
                                "Around its fastest moment the %1 hardly shows from here: the line "
                                "lies across the view.")},
        Entry{"turn.speed_hangs_on_breadth",
              QT_TRANSLATE_NOOP("Message",
                                "How fast the %1 is hangs too much on how broad the player is.")},
        Entry{"turn.time_hangs_on_breadth",
              QT_TRANSLATE_NOOP("Message",
                                "When the %1 is fastest hangs too much on how broad the player "
                                "is.")},

        Entry{"course.too_few_frames",
              QT_TRANSLATE_NOOP("Message",
                                "It follows the %1 from frame to frame, and %2 of %3 frames from "
                                "%4 have it. Propose looks for the landmarks in all frames.")},
        Entry{"course.no_direction",
              QT_TRANSLATE_NOOP("Message",
                                "The %1 is seen on too short a way here to have a direction.")},
        Entry{"course.above_horizon",
              QT_TRANSLATE_NOOP("Message", "The %1 is seen above the ground's end.")},
        Entry{"course.too_few_show",
              QT_TRANSLATE_NOOP("Message", "Too few frames of this stretch show the %1.")},
        Entry{"course.too_few_show_both",
              QT_TRANSLATE_NOOP("Message",
                                "Too few frames of this stretch show both the %1 and the %2.")},
        Entry{"course.still", QT_TRANSLATE_NOOP("Message", "The %1 does not move here.")},
        Entry{"course.still_in_stretch",
              QT_TRANSLATE_NOOP("Message", "The %1 does not move in this stretch.")},
        Entry{"course.still_before_peak",
              QT_TRANSLATE_NOOP("Message", "The %1 does not move before its peak.")},
        Entry{"course.gain_too_short",
              QT_TRANSLATE_NOOP("Message",
                                "The %1 gains its speed in too few frames here to say how "
                                "evenly.")},
        Entry{"peak.none",
              QT_TRANSLATE_NOOP("Message", "The speed of the %1 has no peak in this stretch.")},
        Entry{"peak.too_short",
              QT_TRANSLATE_NOOP("Message",
                                "The %1 is fast for %2 ms only; at %3 frames a second its peak "
                                "can't be told. Film with at least %4.")},
        Entry{"opening.joint_not_seen",
              QT_TRANSLATE_NOOP("Message", "Too few frames show the whole joint at the %1.")},
        Entry{"opening.none",
              QT_TRANSLATE_NOOP("Message",
                                "The %1 has no moment of fastest opening in this stretch.")},
        Entry{"opening.too_short",
              QT_TRANSLATE_NOOP("Message",
                                "The %1 opens fast for %2 ms only; at %3 frames a second its peak "
                                "can't be told. Film with at least %4.")},
        Entry{"opening.out_of_plane",
              QT_TRANSLATE_NOOP("Message",
                                "Where the %1 opens fastest, its limb points towards or away from "
                                "the camera, so that the opening does not show from here.")},
        Entry{
            "sequence.none",
            QT_TRANSLATE_NOOP("Message", "This technique's pack names no sequence of body parts.")},
        Entry{"sequence.other_view",
              QT_TRANSLATE_NOOP("Message", "The sequence can be read from the %1.")},

        Entry{"ground.not_marked",
              QT_TRANSLATE_NOOP("Message",
                                "It is measured on the ground, and nothing is marked there: mark a "
                                "place of known size, or four cones, on the Film station under "
                                "Ground.")},
        Entry{"ground.no_line",
              QT_TRANSLATE_NOOP("Message",
                                "The place marked on the ground has no such line: mark one that "
                                "has, on the Film station under Ground.")},
        Entry{"ground.too_unsure",
              QT_TRANSLATE_NOOP("Message",
                                "The camera stands too low, or the marked place is too small or "
                                "too far off, to tell this on the ground.")},
        Entry{"ground.too_unsure_by",
              QT_TRANSLATE_NOOP("Message",
                                "The camera stands too low, or the marked place is too small or "
                                "too far off, to tell this on the ground: it may be off by more "
                                "than %1.")},
        Entry{"ground.way_too_unsure",
              QT_TRANSLATE_NOOP("Message",
                                "The camera stands too low, or the marked place is too small or "
                                "too far off, to tell which way it goes over the ground: film from "
                                "above.")},
        Entry{
            "ground.too_few_marks",
            QT_TRANSLATE_NOOP("Message", "Mark at least four points of the place on the ground.")},
        Entry{"ground.marks_on_one_line",
              QT_TRANSLATE_NOOP("Message",
                                "The marked points lie on one line, or nearly: mark one that lies "
                                "well beside it.")},
        Entry{"ground.marks_do_not_match",
              QT_TRANSLATE_NOOP("Message",
                                "No camera sees this place so: two marks are mixed up, one has "
                                "slipped, or the sizes are not those of this place.")},
        Entry{"ground.only_a_length",
              QT_TRANSLATE_NOOP("Message",
                                "A known length tells how large things at the player are. For "
                                "places on the ground mark four points of known size on it.")},
        Entry{"ground.place_not_known",
              QT_TRANSLATE_NOOP("Message",
                                "What is marked on the ground is no place this technique knows.")},

        Entry{"second.needed",
              QT_TRANSLATE_NOOP("Message",
                                "One film does not tell it: film the motion twice at the same "
                                "time, and say so on the Film station under Camera.")},
        Entry{"second.mark_ground",
              QT_TRANSLATE_NOOP("Message",
                                "Mark the ground of this clip: both films need the same marked "
                                "place.")},
        Entry{"second.mark_other_ground",
              QT_TRANSLATE_NOOP("Message",
                                "Mark the ground of the other film, too: the same place as in "
                                "this one.")},
        Entry{"second.its_ground",
              QT_TRANSLATE_NOOP("Message", "The ground of the other film: %1")},
        Entry{"second.other_place",
              QT_TRANSLATE_NOOP("Message",
                                "The two films have different places marked on the ground.")},
        Entry{"second.no_shared_instant",
              QT_TRANSLATE_NOOP("Message",
                                "No key position is set in both films yet; that or their sound "
                                "tells which pictures show the same instant.")},
        Entry{"second.sounds_differ",
              QT_TRANSLATE_NOOP("Message",
                                "The sounds of the two films do not clearly go together, "
                                "or the ground of the first is not marked.")},
        Entry{"second.fewer_reps",
              QT_TRANSLATE_NOOP("Message",
                                "The other film has fewer reps than this one, so that this rep is "
                                "not in it.")},
        Entry{"second.being_read",
              QT_TRANSLATE_NOOP("Message", "The other film is still being read.")},
        Entry{"second.missing",
              QT_TRANSLATE_NOOP("Message", "The other film is not in the library any more.")},
        Entry{"second.unreadable", QT_TRANSLATE_NOOP("Message", "The other film cannot be read.")},
        Entry{"second.too_few_frames",
              QT_TRANSLATE_NOOP("Message", "%1 of %2 frames show it in both films.")},
        Entry{"second.no_plane",
              QT_TRANSLATE_NOOP("Message",
                                "%1 of %2 frames show it in both films, and there it runs on no "
                                "plane that could be told.")},

        Entry{"flight.no_target",
              QT_TRANSLATE_NOOP("Message", "Nothing says how far away the target is.")},
        Entry{"flight.falls_short",
              QT_TRANSLATE_NOOP("Message", "The ball does not get as far as the target.")},
        Entry{"flight.no_scale",
              QT_TRANSLATE_NOOP("Message",
                                "Nothing says how many metres a pixel is: mark a place of known "
                                "size on the Film station under Ground, or a known length at the "
                                "player, or say on the Squad station how tall the player is and "
                                "place the landmarks of %1.")},
        Entry{"flight.too_few_frames",
              QT_TRANSLATE_NOOP("Message",
                                "The ball is known in %1 of the %2 frames after %3, and %4 are "
                                "needed. Place it in some, or let Propose follow it.")},
        Entry{"flight.no_one_flight",
              QT_TRANSLATE_NOOP("Message",
                                "The places of the ball after %1 do not lie on one flight: look at "
                                "them frame by frame.")},
        Entry{"flight.too_short",
              QT_TRANSLATE_NOOP("Message",
                                "The ball is seen over too short a way to tell its flight: place "
                                "it in more frames.")},

        Entry{"count.not_counted", QT_TRANSLATE_NOOP("Message", "Count it on the Bench: %1")},
        Entry{"count.no_time",
              QT_TRANSLATE_NOOP("Message",
                                "The two instants between which it is counted are the same.")},
    };
    return entries;
}

} // namespace kestrel::words
