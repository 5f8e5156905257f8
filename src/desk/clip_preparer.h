#pragma once

#include "desk/edit_stack.h"
#include "desk/job.h"
#include "desk/shelf.h"
#include "model/clock.h"
#include "records/library.h"

#include <QObject>

#include <optional>
#include <vector>

namespace kestrel::desk {

/// Has the machine prepare clips, one after the other, while the coach does something else: reps,
/// landmarks, key positions. Each clip is one edit when it is done.
class ClipPreparer : public QObject {
    Q_OBJECT
  public:
    ClipPreparer(records::Library& library, const Shelf& shelf, EditStack& edits,
                 Problems& problems, model::Clock clock);
    ~ClipPreparer() override;

    /// How far it has come.
    struct Progress {
        QString clip;       ///< title of the one under way
        int number = 1;     ///< which of all it is
        int count = 1;      ///< how many there are in all
        double share = 0.0; ///< done of this one, of 1
    };

    /// Clips that neither coach nor machine has looked at yet.
    [[nodiscard]] int waiting() const;
    void start();
    /// Stops after what is done; the clip under way stays as it was.
    void stop();
    [[nodiscard]] bool isPreparing() const { return preparing_; }

  signals:
    /// Nothing when it ended.
    void progress(const std::optional<kestrel::desk::ClipPreparer::Progress>& how);

  private:
    void next();

    records::Library& library_;
    const Shelf& shelf_;
    EditStack& edits_;
    Problems& problems_;
    model::Clock clock_;
    Job job_;
    bool preparing_ = false;
    std::vector<model::ClipId> clips_;
    std::size_t at_ = 0; ///< of those, the one that follows
};

} // namespace kestrel::desk
