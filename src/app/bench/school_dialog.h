#pragma once

#include "app/session.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QVBoxLayout;

namespace kestrel::app {

/// What coaches answer differently: chosen for the open rep, its visit or the player. The rep is
/// judged anew at once, and what changed stands below.
class SchoolDialog : public QDialog {
    Q_OBJECT
  public:
    explicit SchoolDialog(Session& session, QWidget* parent = nullptr);

  private:
    void build();
    void showChanges();

    Session& session_;
    QVBoxLayout* questions_ = nullptr;
    QComboBox* forWhom_ = nullptr;
    QLabel* changes_ = nullptr;
};

} // namespace kestrel::app
