#pragma once

#include "app/session.h"

#include <QTimer>
#include <QWidget>

class QComboBox;
class QLabel;
class QPlainTextEdit;
class QVBoxLayout;

namespace kestrel::app {

/// The one focus with its cues, the drills to take home and a note.
class FocusPanel : public QWidget {
    Q_OBJECT
  public:
    explicit FocusPanel(Session& session, QWidget* parent = nullptr);

    /// Fills the panel from the session, which has to have a clip open.
    void refresh();
    /// Keeps a note that is still being typed.
    void finishNote();

  private:
    void refreshDrills();
    void keepNote();
    void chooseDrills();

    Session& session_;
    QComboBox* focus_ = nullptr;
    QLabel* cues_ = nullptr;
    QVBoxLayout* drillRows_ = nullptr;
    QPlainTextEdit* note_ = nullptr;
    QTimer noteTimer_;
    bool filling_ = false;
};

} // namespace kestrel::app
