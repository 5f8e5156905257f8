#pragma once

#include "desk/comparison.h"
#include "desk/film_indices.h"
#include "desk/open_clip.h"

#include <QWidget>

#include <map>
#include <string>
#include <vector>

class QHBoxLayout;
class QToolButton;

namespace kestrel::app {

/// What the open rep can be compared with, a picture each; one click chooses.
class CandidateStrip : public QWidget {
    Q_OBJECT
  public:
    CandidateStrip(desk::OpenClip& open, desk::Comparison& comparison, desk::FilmIndices& films,
                   QWidget* parent = nullptr);

  private:
    void rebuild();
    void showChosen();
    void makePicture(std::size_t candidate);

    desk::OpenClip& open_;
    desk::Comparison& comparison_;
    desk::FilmIndices& films_;
    QHBoxLayout* row_ = nullptr;
    std::vector<QToolButton*> cards_;
    /// Pictures made before, by rep, frame and technique.
    std::map<std::string, QImage> pictures_;
};

} // namespace kestrel::app
