#pragma once

#include "app/shared/thumbnails.h"
#include "desk/clip_edits.h"
#include "desk/open_clip.h"

#include <QWidget>

class QHBoxLayout;

namespace kestrel::app {

class ClipMap;
class Stage;
class Transport;

/// The frame, the clip's map below it and the buttons that move through it.
class FilmView : public QWidget {
    Q_OBJECT
  public:
    FilmView(desk::OpenClip& open, desk::ClipEdits& clipEdits, Thumbnails& thumbnails,
             QWidget* parent = nullptr);

    /// Shows a widget to the right of the frame, above map and buttons: the window needs no more
    /// width for it.
    void putBesideFrame(QWidget* widget);

    [[nodiscard]] Stage& stage() { return *stage_; }
    [[nodiscard]] Transport& transport() { return *transport_; }
    [[nodiscard]] ClipMap& map() { return *map_; }

  private:
    QHBoxLayout* frameRow_ = nullptr;
    Stage* stage_ = nullptr;
    ClipMap* map_ = nullptr;
    Transport* transport_ = nullptr;
};

} // namespace kestrel::app
