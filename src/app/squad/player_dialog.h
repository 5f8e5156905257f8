#pragma once

#include "model/record.h"

#include <QDialog>

class QComboBox;
class QDateEdit;
class QDoubleSpinBox;
class QCheckBox;
class QLineEdit;
class QPushButton;

namespace kestrel::app {

/// Asks for what the program needs to know of a player.
class PlayerDialog : public QDialog {
    Q_OBJECT
  public:
    PlayerDialog(const model::Player& player, model::Day today, QWidget* parent = nullptr);

    [[nodiscard]] model::Player player() const;

  private:
    model::Player player_;
    QLineEdit* name_ = nullptr;
    QCheckBox* bornKnown_ = nullptr;
    QDateEdit* born_ = nullptr;
    QComboBox* hand_ = nullptr;
    QDoubleSpinBox* height_ = nullptr;
    QComboBox* sex_ = nullptr;
    QCheckBox* consent_ = nullptr;
    QDateEdit* consentDay_ = nullptr;
    QPushButton* keep_ = nullptr;
};

} // namespace kestrel::app
