#pragma once

#include "app/session.h"

#include <QWidget>

#include <string>
#include <vector>

class QCheckBox;
class QLabel;
class QTreeWidget;
class QVBoxLayout;

namespace kestrel::app {

/// The readings with range, verdict and uncertainty; choosing one shows on the frame how it was
/// made, and tells it in words.
class ReadingsPanel : public QWidget {
    Q_OBJECT
  public:
    explicit ReadingsPanel(Session& session, QWidget* parent = nullptr);

    /// The position whose readings are listed, unless all are asked for.
    void setPosition(const std::string& positionId);

  signals:
    /// What to draw on the frame: the chosen reading, or all of this position.
    void shown(const std::vector<kestrel::model::Reading>& readings);

  private:
    void refresh();
    void rebuildObservations();
    void showChosen();
    [[nodiscard]] QString explanation(const model::Reading& reading) const;

    Session& session_;
    std::string position_;
    std::string chosen_; ///< measure id, empty when none is
    QTreeWidget* tree_ = nullptr;
    QCheckBox* all_ = nullptr;
    QLabel* how_ = nullptr;
    QWidget* observations_ = nullptr;
    QVBoxLayout* observationRows_ = nullptr;
};

} // namespace kestrel::app
