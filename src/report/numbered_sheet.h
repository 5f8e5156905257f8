#pragma once

#include "model/reading.h"
#include "model/record.h"
#include "report/film_images.h"
#include "technique/pack/pack.h"

#include <QImage>
#include <QString>

#include <vector>

/// A rep on one sheet: numbered pictures of its frames.
namespace kestrel::report {

struct NumberedFrame {
    int frame = 0;
    QString title; ///< name of the position, or the time in the rep
};

/// The rep's key positions in order.
std::vector<NumberedFrame> framesAtPositions(const technique::Pack& pack, const model::Rep& rep);

/// `count` frames evenly over the rep (or over the film when it has no span), first and last among
/// them; titles are times from the rep's start, on the field. At least two, at most as many as
/// there are.
std::vector<NumberedFrame> framesEvenly(const model::Rep& rep, const model::ClipTime& time,
                                        int count);

struct NumberedSheet {
    QString heading;
    int columns = 4;
    int cellWidth = 360; ///< pixels
    bool constructs = true;
    bool blurFaces = false;
};

/// The sheet as a picture: number, title and picture of each frame, cut to the player. A frame that
/// cannot be decoded, or whose face is to be blurred and cannot be found, is an empty cell that
/// says so.
QImage numberedSheet(const NumberedSheet& sheet, const std::vector<NumberedFrame>& frames,
                     const model::LandmarkTrack& track, const std::vector<model::Reading>& readings,
                     const FrameImages& images);

} // namespace kestrel::report
