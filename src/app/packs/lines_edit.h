#pragma once

#include <QPlainTextEdit>

namespace kestrel::app {

/// Text of several lines that says when it is finished: when the focus leaves it.
class LinesEdit : public QPlainTextEdit {
    Q_OBJECT
  public:
    explicit LinesEdit(const QString& text, int lines) : QPlainTextEdit(text) {
        setTabChangesFocus(true);
        constexpr int frame = 12;
        setFixedHeight(lines * fontMetrics().lineSpacing() + frame);
    }

  signals:
    void finished(const QString& text);

  protected:
    void focusOutEvent(QFocusEvent* event) override {
        QPlainTextEdit::focusOutEvent(event);
        emit finished(toPlainText());
    }
};

} // namespace kestrel::app
