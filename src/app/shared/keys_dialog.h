#pragma once

#include <QDialog>

namespace kestrel::app {

/// All keys on one page, as the table of keys has them.
class KeysDialog : public QDialog {
    Q_OBJECT
  public:
    explicit KeysDialog(QWidget* parent = nullptr);
};

} // namespace kestrel::app
