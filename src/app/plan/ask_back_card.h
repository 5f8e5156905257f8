#pragma once

#include "desk/open_clip.h"
#include "desk/open_visit.h"
#include "records/library.h"

#include <QFrame>

class QLabel;

namespace kestrel::app {

/// What the plan of the visit before asks now: was it done, did it help, what to do. Hidden when
/// there was none.
class AskBackCard : public QFrame {
    Q_OBJECT
  public:
    explicit AskBackCard(const records::Library& library, desk::OpenClip& open,
                         desk::OpenVisit& visit, QWidget* parent = nullptr);

    /// Fills the card from the clip that has to be open.
    void refresh();

  private:
    const records::Library& library_;
    desk::OpenClip& open_;
    desk::OpenVisit& visit_;
    QLabel* heading_ = nullptr;
    QLabel* text_ = nullptr;
};

} // namespace kestrel::app
