#include "words/catalogue.h"

#include <array>

/// What is found, planned, asked and compared.
namespace kestrel::words {

std::span<const Entry> planEntries() {
    static constexpr std::array entries{
        Entry{"first.pinned",
              QT_TRANSLATE_NOOP("Message", "%1 comes first because you put it there.")},
        Entry{"first.safety",
              QT_TRANSLATE_NOOP("Message",
                                "%1 comes first because it concerns the player's safety.")},
        Entry{"first.leads_to_safety",
              QT_TRANSLATE_NOOP("Message",
                                "%1 comes first because it leads to %2, which concerns the "
                                "player's safety.")},
        Entry{"first.cause",
              QT_TRANSLATE_NOOP("Message",
                                "%1 comes first because it happens earlier and %2 can follow from "
                                "it.")},
        Entry{
            "first.only",
            QT_TRANSLATE_NOOP("Message", "%1 is the only fault that the film shows for certain.")},
        Entry{"first.earliest",
              QT_TRANSLATE_NOOP("Message",
                                "%1 comes first because it happens earliest and does not follow "
                                "from another fault seen here.")},
        Entry{"in_of_reps", QT_TRANSLATE_NOOP("Message", "in %1 of %2 reps")},
        Entry{"focus.open", QT_TRANSLATE_NOOP("Message", "open")},
        Entry{"change.first_focus",
              QT_TRANSLATE_NOOP("Message", "The focus is now %1; there was none.")},
        Entry{"change.focus", QT_TRANSLATE_NOOP("Message", "The focus is now %1; it was %2.")},
        Entry{"change.fault_found", QT_TRANSLATE_NOOP("Message", "“%1” is found now.")},
        Entry{"change.fault_gone", QT_TRANSLATE_NOOP("Message", "“%1” is no longer found.")},
        Entry{"change.measure", QT_TRANSLATE_NOOP("Message", "%1: %2 → %3.")},
        Entry{"change.verdict_and_range", QT_TRANSLATE_NOOP("Message", "%1 (%2)")},
        Entry{"range.none", QT_TRANSLATE_NOOP("Message", "no range")},

        Entry{"plan.left_out_equipment",
              QT_TRANSLATE_NOOP("Message", "“%1” is left out: it needs a %2.")},
        Entry{"plan.left_out_minutes",
              QT_TRANSLATE_N_NOOP("Message", "“%1” is left out: it takes %n minute(s).")},
        Entry{"plan.left_out_field",
              QT_TRANSLATE_NOOP("Message", "“%1” is left out: it is for the field.")},
        Entry{"plan.no_day",
              QT_TRANSLATE_NOOP("Message", "There is no day for homework before the next visit.")},
        Entry{"plan.no_drill",
              QT_TRANSLATE_NOOP("Message", "No drill can be done with this time and equipment.")},
        Entry{"plan.nothing_fits", QT_TRANSLATE_NOOP("Message", "No drill fits on %1.")},
        Entry{
            "plan.near_spurt",
            QT_TRANSLATE_NOOP(
                "Message", "Near the growth spurt: doses and rest are those of a younger player.")},
        Entry{"plan.throws_kept_off",
              QT_TRANSLATE_NOOP("Message",
                                "Drills with throws are kept off game days and the rest after "
                                "them (%1).")},
        Entry{"dose.stepped_up", QT_TRANSLATE_NOOP("Message", "%1, stepped up")},
        Entry{"stage.learn", QT_TRANSLATE_NOOP("Message", "Learn it slowly")},
        Entry{"stage.settle", QT_TRANSLATE_NOOP("Message", "Make it a habit")},
        Entry{"stage.play", QT_TRANSLATE_NOOP("Message", "Use it at play")},
        Entry{"drill.at_home", QT_TRANSLATE_NOOP("Message", "at home, nothing needed")},
        Entry{"drill.with_aid", QT_TRANSLATE_NOOP("Message", "at home with an aid")},
        Entry{"drill.on_field", QT_TRANSLATE_NOOP("Message", "on the field")},

        Entry{"differ.more", QT_TRANSLATE_NOOP("Message", "%1, %2: %3 more %4.")},
        Entry{"differ.less", QT_TRANSLATE_NOOP("Message", "%1, %2: %3 less %4.")},
        Entry{"differ.longer", QT_TRANSLATE_NOOP("Message", "%1, %2: %3 longer %4.")},
        Entry{"differ.shorter", QT_TRANSLATE_NOOP("Message", "%1, %2: %3 shorter %4.")},
        Entry{"differ.than_on", QT_TRANSLATE_NOOP("Message", "than on %1")},
        Entry{"differ.than_in", QT_TRANSLATE_NOOP("Message", "than in “%1”")},
        Entry{"differ.than_model", QT_TRANSLATE_NOOP("Message", "than in the pose model")},
        Entry{"differ.nothing_told",
              QT_TRANSLATE_NOOP("Message", "Nothing differs by more than can be mismeasured.")},
        Entry{"differ.nothing_read",
              QT_TRANSLATE_NOOP("Message",
                                "Nothing could be read in both: look at the key positions and "
                                "landmarks of both reps.")},

        Entry{"ask.nothing_planned", QT_TRANSLATE_NOOP("Message", "No homework was planned.")},
        Entry{"ask.done", QT_TRANSLATE_NOOP("Message", "Was it done? %1 of %2 drills are ticked.")},
        Entry{"ask.then_now", QT_TRANSLATE_NOOP("Message", "%1: %2 then, %3 now; %4.")},
        Entry{"ask.moved", QT_TRANSLATE_NOOP("Message", "%1: %2.")},
        Entry{"ask.still_there",
              QT_TRANSLATE_NOOP("Message", "To watch since then, and seen now: “%1”.")},
        Entry{"moved.not_read", QT_TRANSLATE_NOOP("Message", "it could not be read in both films")},
        Entry{"moved.not_told",
              QT_TRANSLATE_NOOP("Message", "too uncertain to tell; film more reps")},
        Entry{"moved.within",
              QT_TRANSLATE_NOOP("Message", "no change beyond what can be measured")},
        Entry{"moved.better",
              QT_TRANSLATE_NOOP("Message", "better, and by more than can be mismeasured")},
        Entry{"moved.into_range", QT_TRANSLATE_NOOP("Message", "now where it should be")},
        Entry{"moved.worse", QT_TRANSLATE_NOOP("Message", "further off than before")},
        Entry{"advice.ask_first",
              QT_TRANSLATE_NOOP("Message",
                                "The film does not tell whether it helped. Ask the player, and "
                                "film more reps, from a view that shows it.")},
        Entry{"advice.keep",
              QT_TRANSLATE_NOOP("Message",
                                "It moves. Keep the focus and the drills, and go on to their next "
                                "step.")},
        Entry{"advice.step_up",
              QT_TRANSLATE_NOOP("Message",
                                "It is there. Step up: make the drills harder, or take the next "
                                "focus and keep one of these drills a week.")},
        Entry{"advice.do_it",
              QT_TRANSLATE_NOOP("Message",
                                "It was hardly done. Keep the focus, and make the homework shorter "
                                "and easier to start.")},
        Entry{"advice.change",
              QT_TRANSLATE_NOOP("Message",
                                "It was done and did not help. Change the approach: another cue, "
                                "other drills, or an earlier cause.")},

        Entry{"growth.rate", QT_TRANSLATE_NOOP("Message", "Growing %1 ± %2 cm a year.")},
        Entry{"growth.spurt_ahead",
              QT_TRANSLATE_NOOP("Message",
                                "The growth spurt is estimated %1 years ahead, give or take %2 "
                                "(Moore and others 2015, from age and height).")},
        Entry{"growth.spurt_ago",
              QT_TRANSLATE_NOOP("Message",
                                "The growth spurt is estimated %1 years ago, give or take %2 "
                                "(Moore and others 2015, from age and height).")},
        Entry{"growth.near_spurt",
              QT_TRANSLATE_NOOP("Message",
                                "Near the spurt limbs change faster than the skill: compare with "
                                "the last weeks, not with last year, keep throwing and jumping "
                                "loads down, and send pain at heel, knee, elbow or shoulder to a "
                                "clinician.")},
    };
    return entries;
}

} // namespace kestrel::words
