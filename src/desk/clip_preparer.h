#pragma once

#include "desk/edit_stack.h"
#include "desk/job.h"
#include "desk/judging.h"
#include "desk/landmark_search.h"
#include "desk/open_clip.h"
#include "desk/shelf.h"
#include "model/clock.h"
#include "records/library.h"

#include <QObject>
#include <QThreadPool>

#include <optional>
#include <set>

namespace kestrel::prepare {
struct ClipWork;
struct PreparedClip;
} // namespace kestrel::prepare

namespace kestrel::desk {

/// Has the machine prepare clips, one after the other, while the coach does something else: reps,
/// landmarks, key positions, the body in space. The open clip comes first. Asked for, each clip is
/// one edit when it is done; by itself, it is no edit, for undo takes back what the coach did. The
/// work takes the time of the computer that nothing else wants, and gives way to a search for
/// landmarks that the coach asks for.
class ClipPreparer : public QObject {
    Q_OBJECT
  public:
    ClipPreparer(records::Library& library, const Shelf& shelf, const OpenClip& open,
                 const Judging& judging, const LandmarkSearch& search, EditStack& edits,
                 Problems& problems, model::Clock clock);
    ~ClipPreparer() override;

    /// How far it has come.
    struct Progress {
        QString clip;       ///< title of the one under way
        model::ClipId id;   ///< of it
        int number = 1;     ///< which of all it is
        int count = 1;      ///< how many there are in all
        double share = 0.0; ///< done of this one, of 1
    };

    /// Clips that neither coach nor machine has looked at yet.
    [[nodiscard]] int waiting() const;
    /// Prepares them all.
    void start();
    /// Stops after what is done; the clip under way stays as it was, and is not begun by itself
    /// again.
    void stop();
    [[nodiscard]] bool isPreparing() const { return underWay_.has_value(); }
    /// The clip under way.
    [[nodiscard]] std::optional<model::ClipId> underWay() const { return underWay_; }

    /// From now on clips are prepared by themselves as they come in, or not any more. What was
    /// begun by itself once and was stopped or could not be read is not begun by itself again.
    void setByItself(bool on);
    [[nodiscard]] bool isByItself() const { return byItself_; }

  signals:
    /// Nothing when it ended.
    void progress(const std::optional<kestrel::desk::ClipPreparer::Progress>& how);

  private:
    /// Which is the next, if any.
    [[nodiscard]] std::optional<prepare::ClipWork> nextWork();
    void next();
    void goOnByItself();
    void giveWay(bool searching);
    void goOn();
    void end();
    bool keep(const prepare::ClipWork& work, prepare::PreparedClip done);

    records::Library& library_;
    const Shelf& shelf_;
    const OpenClip& open_;
    const Judging& judging_;
    const LandmarkSearch& search_;
    EditStack& edits_;
    Problems& problems_;
    model::Clock clock_;
    QThreadPool idle_; ///< of one thread
    Job job_;
    bool asked_ = false; ///< the coach pressed for it
    bool byItself_ = false;
    bool gaveWay_ = false; ///< it goes on when the search has ended
    std::optional<model::ClipId> underWay_;
    std::set<model::ClipId> begun_;
    int done_ = 0; ///< clips since it started
};

} // namespace kestrel::desk
