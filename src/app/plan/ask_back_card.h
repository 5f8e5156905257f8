#pragma once

#include "app/session.h"

#include <QFrame>

class QLabel;

namespace kestrel::app {

/// What the plan of the visit before asks now: was it done, did it help, what to do. Hidden when
/// there was none.
class AskBackCard : public QFrame {
    Q_OBJECT
  public:
    explicit AskBackCard(Session& session, QWidget* parent = nullptr);

    /// Fills the card from the session, which has to have a clip open.
    void refresh();

  private:
    Session& session_;
    QLabel* heading_ = nullptr;
    QLabel* text_ = nullptr;
};

} // namespace kestrel::app
