#pragma once

#include "desk/open_clip.h"
#include "technique/kinds/sequence.h"

#include <QWidget>

#include <optional>
#include <string>
#include <vector>

class QComboBox;
class QLabel;

namespace kestrel::app {

class ClipMap;
class CurvesPlot;

/// Curves on the clip's time axis, below its map: the sequence of speeds with what the film can and
/// cannot tell of its order, or how the chosen reading runs from frame to frame.
class CurvesBand : public QWidget {
    Q_OBJECT
  public:
    /// `map` gives the axis and must outlive this.
    CurvesBand(desk::OpenClip& open, ClipMap& map, QWidget* parent = nullptr);

    /// The measure that "The chosen reading" means; empty: none.
    void setMeasure(const std::string& measureId);

  protected:
    void showEvent(QShowEvent* event) override;

  private:
    enum Show { sequence, accelerations, reading };

    void refresh();
    /// Brings what the curves cover into view, once after it was asked for.
    void lookAt(const technique::SequenceReading& read);
    void showSequence();
    void showAccelerations(const technique::SequenceReading& read);
    void showReading();

    desk::OpenClip& open_;
    ClipMap& map_;
    std::string measure_;
    bool lookAtCurves_ = true;
    QComboBox* what_ = nullptr;
    QLabel* says_ = nullptr;
    CurvesPlot* plot_ = nullptr;
};

} // namespace kestrel::app
