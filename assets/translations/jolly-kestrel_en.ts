<?xml version="1.0" encoding="utf-8"?>
<!DOCTYPE TS>
<TS version="2.1" language="en_GB" sourcelanguage="en_GB">
<context>
    <name>CalendarWords</name>
    <message numerus="yes">
        <source>%1: %2, %n minute(s)</source>
        <translation>
            <numerusform>%1: %2, %n minute</numerusform>
            <numerusform>%1: %2, %n minutes</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>Message</name>
    <message numerus="yes">
        <source>“%1” is left out: it takes %n minute(s).</source>
        <translation>
            <numerusform>“%1” is left out: it takes %n minute.</numerusform>
            <numerusform>“%1” is left out: it takes %n minutes.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>The film is cut %n time(s); no rep goes on over a cut.</source>
        <translation>
            <numerusform>The film is cut once; no rep goes on over a cut.</numerusform>
            <numerusform>The film is cut %n times; no rep goes on over a cut.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n dark or fading stretch(es) are left out.</source>
        <translation>
            <numerusform>%n dark or fading stretch is left out.</numerusform>
            <numerusform>%n dark or fading stretches are left out.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>One picture is held %n time(s), for %2 s in all. A duration over that is too long by as much.</source>
        <translation>
            <numerusform>One picture is held once, for %2 s in all. A duration over that is too long by as much.</numerusform>
            <numerusform>One picture is held %n times, for %2 s in all. A duration over that is too long by as much.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n graphic(s) are laid over the picture; what moves there does not count.</source>
        <translation>
            <numerusform>%n graphic is laid over the picture; what moves there does not count.</numerusform>
            <numerusform>%n graphics are laid over the picture; what moves there does not count.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>kestrel::app::CameraPanel</name>
    <message numerus="yes">
        <source>%n reading(s) of this rep come(s) from both films.</source>
        <translation>
            <numerusform>%n reading of this rep comes from both films.</numerusform>
            <numerusform>%n readings of this rep come from both films.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>kestrel::app::FindingsPanel</name>
    <message numerus="yes">
        <source>◌ Provisional: nobody has looked yet at what the program found in %n rep(s). Check it on the Bench.</source>
        <translation>
            <numerusform>◌ Provisional: nobody has looked yet at what the program found in %n rep. Check it on the Bench.</numerusform>
            <numerusform>◌ Provisional: nobody has looked yet at what the program found in %n reps. Check it on the Bench.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>kestrel::app::GroundPanel</name>
    <message numerus="yes">
        <source>%n straight edge(s): the lens moves the picture&apos;s corners by %1 ± %2 pixels.</source>
        <translation>
            <numerusform>%n straight edge: the lens moves the picture&apos;s corners by %1 ± %2 pixels.</numerusform>
            <numerusform>%n straight edges: the lens moves the picture&apos;s corners by %1 ± %2 pixels.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>kestrel::app::PackReader</name>
    <message numerus="yes">
        <source>%n day(s) after %1 throws or more</source>
        <translation>
            <numerusform>%n day after %1 throws or more</numerusform>
            <numerusform>%n days after %1 throws or more</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>kestrel::app::PlacingPanel</name>
    <message numerus="yes">
        <source>± %n frame(s)</source>
        <translation>
            <numerusform>± %n frame</numerusform>
            <numerusform>± %n frames</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>%n proposed landmark(s) of %1 to look at: %2 goes to the one that matters most, %3 takes all.</source>
        <translation>
            <numerusform>%n proposed landmark of %1 to look at: %2 goes to it.</numerusform>
            <numerusform>%n proposed landmarks of %1 to look at: %2 goes to the one that matters most, %3 takes all.</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>kestrel::app::ReadingsPanel</name>
    <message numerus="yes">
        <source>The pack was changed since this rep was judged. Judging it anew would change %n thing(s), first: %1</source>
        <translation>
            <numerusform>The pack was changed since this rep was judged. Judging it anew would change one thing: %1</numerusform>
            <numerusform>The pack was changed since this rep was judged. Judging it anew would change %n things, first: %1</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>kestrel::app::RepsPanel</name>
    <message numerus="yes">
        <source>What moves when shows %n rep(s), dashed on the map.</source>
        <translation>
            <numerusform>What moves when shows one rep, dashed on the map.</numerusform>
            <numerusform>What moves when shows %n reps, dashed on the map.</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Take the %n proposed rep(s)</source>
        <translation>
            <numerusform>Take the proposed rep</numerusform>
            <numerusform>Take the %n proposed reps</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>kestrel::app::SquadStation</name>
    <message numerus="yes">
        <source>%n clip(s)</source>
        <translation>
            <numerusform>%n clip</numerusform>
            <numerusform>%n clips</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Prepare %n film(s)</source>
        <translation>
            <numerusform>Prepare %n film</numerusform>
            <numerusform>Prepare %n films</numerusform>
        </translation>
    </message>
</context>
<context>
    <name>kestrel::desk::RepEdits</name>
    <message numerus="yes">
        <source>Confirm %n landmark(s), frame %1</source>
        <translation>
            <numerusform>Confirm a landmark, frame %1</numerusform>
            <numerusform>Confirm %n landmarks, frame %1</numerusform>
        </translation>
    </message>
    <message numerus="yes">
        <source>Copy %n landmark(s) to frame %1</source>
        <translation>
            <numerusform>Copy a landmark to frame %1</numerusform>
            <numerusform>Copy %n landmarks to frame %1</numerusform>
        </translation>
    </message>
</context>
</TS>
