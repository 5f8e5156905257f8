#include "film/film_index.h"

namespace kestrel::film {

FilmIndex asFields(const FilmIndex& wholeFrames, Fields order) {
    FilmIndex index = wholeFrames;
    if (order == Fields::none || wholeFrames.readAs != Fields::none) {
        return index;
    }
    index.readAs = order;
    index.timeBase.den *= 2;
    index.statedRate.num *= 2;
    index.lastDuration = wholeFrames.lastDuration;
    index.frames.clear();
    for (std::size_t i = 0; i < wholeFrames.frames.size(); ++i) {
        const IndexedFrame& frame = wholeFrames.frames[i];
        const std::int64_t duration = i + 1 < wholeFrames.frames.size()
                                          ? wholeFrames.frames[i + 1].pts - frame.pts
                                          : wholeFrames.lastDuration;
        // In the halved time base a frame's duration is twice as many ticks, a field's as many.
        index.frames.push_back({2 * frame.pts, frame.key});
        index.frames.push_back({2 * frame.pts + duration, false});
    }
    return index;
}

FilmIndex asWholeFrames(const FilmIndex& index) {
    FilmIndex whole = index;
    if (index.readAs == Fields::none) {
        return whole;
    }
    whole.readAs = Fields::none;
    whole.timeBase.den /= 2;
    whole.statedRate.num /= 2;
    whole.frames.clear();
    for (std::size_t i = 0; i < index.frames.size(); i += 2) {
        whole.frames.push_back({index.frames[i].pts / 2, index.frames[i].key});
    }
    return whole;
}

} // namespace kestrel::film
