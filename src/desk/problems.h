#pragma once

#include <QObject>
#include <QString>

#include <exception>
#include <functional>

namespace kestrel::desk {

/// What the coach is told when something could not be done.
struct Problem {
    QString happened;
    QString safe;
    QString todo;
};

/// The problem that an exception means.
Problem problemOf(const std::exception_ptr& error);

/// The one place through which everything on the desk tells the coach of problems. Nothing that
/// happens on the desk ends the program. Belongs to the interface thread.
class Problems : public QObject {
    Q_OBJECT
  public:
    void tell(const Problem& problem) { emit told(problem); }
    void tell(const std::exception_ptr& error) { emit told(problemOf(error)); }

    /// Does `work`. What it throws is told; then the answer is false.
    bool trying(const std::function<void()>& work);

  signals:
    void told(const kestrel::desk::Problem& problem);
};

} // namespace kestrel::desk
