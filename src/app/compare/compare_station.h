#pragma once

#include "app/shared/thumbnails.h"
#include "desk/desk.h"
#include "words/keys.h"

#include <QWidget>

#include <optional>
#include <string>
#include <vector>

class QButtonGroup;
class QCheckBox;
class QComboBox;
class QHBoxLayout;
class QLabel;
class QPushButton;
class QToolButton;

namespace kestrel::app {

class CandidateStrip;
class ComparisonFiles;
class DifferencesPanel;
class PairStage;
class Transport;

/// The open rep beside another one: in step, drawn together, and what differs.
class CompareStation : public QWidget {
    Q_OBJECT
  public:
    CompareStation(desk::Desk& desk, Thumbnails& thumbnails, QWidget* parent = nullptr);

    [[nodiscard]] PairStage& stage() { return *stage_; }

  protected:
    void keyPressEvent(QKeyEvent* event) override;
    void showEvent(QShowEvent* event) override;
    void hideEvent(QHideEvent* event) override;

  private:
    QWidget* makeLook();
    QWidget* makeStep();
    void refresh();
    void rebuildPositions();
    void showStep();
    void showTogether();
    void chooseMirror();
    /// Goes to a key position of the open rep.
    void goToPosition(const std::string& positionId);
    void moveToPosition(int by);
    [[nodiscard]] std::optional<std::string> positionHere() const;

    desk::Desk& desk_;
    PairStage* stage_ = nullptr;
    Transport* transport_ = nullptr;
    QButtonGroup* lay_ = nullptr;
    QComboBox* other_ = nullptr;
    QComboBox* anchor_ = nullptr;
    QComboBox* aid_ = nullptr;
    QCheckBox* mirror_ = nullptr;
    QWidget* bodyViews_ = nullptr;
    QComboBox* step_ = nullptr;
    QLabel* times_ = nullptr;
    QPushButton* correct_ = nullptr;
    QHBoxLayout* positions_ = nullptr;
    std::vector<QToolButton*> positionButtons_;
    std::vector<std::string> shared_; ///< positions that the buttons are of
    model::RepId mirrorFor_;          ///< the other rep that the mirror was chosen for
    ComparisonFiles* files_ = nullptr;
};

} // namespace kestrel::app
