#pragma once

#include "desk/comparison.h"
#include "desk/film_indices.h"
#include "desk/job.h"
#include "desk/open_clip.h"
#include "desk/problems.h"
#include "desk/settings.h"

#include <QWidget>

class QCheckBox;
class QLabel;
class QProgressBar;
class QPushButton;

namespace kestrel::app {

/// Saves a comparison: the sheet as PDF or picture, the film, the figures.
class ComparisonFiles : public QWidget {
    Q_OBJECT
  public:
    ComparisonFiles(desk::OpenClip& open, desk::Comparison& comparison, desk::FilmIndices& films,
                    desk::Settings& settings, desk::Problems& problems, QWidget* parent = nullptr);

    void setMirrored(bool mirrored) { mirrored_ = mirrored; }

  signals:
    void saved(const QString& file);

  private:
    enum class Format { pdf, png, film, csv };

    void refresh();
    void save(Format format);
    void begin(const QString& says);
    void end(const QString& says);

    desk::OpenClip& open_;
    desk::Comparison& comparison_;
    desk::FilmIndices& films_;
    desk::Settings& settings_;
    desk::Problems& problems_;
    bool mirrored_ = false;
    bool busy_ = false;
    QCheckBox* blur_ = nullptr;
    std::vector<QPushButton*> buttons_;
    QProgressBar* progress_ = nullptr;
    QPushButton* cancel_ = nullptr;
    QLabel* state_ = nullptr;
    desk::Job job_;
};

} // namespace kestrel::app
