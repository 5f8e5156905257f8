#include "app/bench/rep_files.h"

#include "body/motion_files.h"
#include "model/input_error.h"
#include "track/files/landmark_file.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QMenu>

namespace kestrel::app {

RepFilesButton::RepFilesButton(desk::Problems& problems, desk::OpenClip& open,
                               desk::RepEdits& repEdits, QWidget* parent)
    : QPushButton(tr("File"), parent), problems_(problems), open_(open), repEdits_(repEdits) {
    setObjectName("landmarkFile");
    setAccessibleName(tr("Landmarks and body to and from a file"));
    setFocusPolicy(Qt::NoFocus);
    auto* menu = new QMenu(this);
    menu->addAction(tr("Save landmarks as CSV or TRC…"), this, &RepFilesButton::saveLandmarks)
        ->setObjectName("saveLandmarks");
    menu->addAction(tr("Take landmarks from a file…"), this, &RepFilesButton::takeLandmarks)
        ->setObjectName("takeLandmarks");
    menu->addAction(tr("Save the body in space as TRC or BVH…"), this, &RepFilesButton::saveBody)
        ->setObjectName("saveBody");
    setMenu(menu);
}

void RepFilesButton::saveLandmarks() {
    if (!open_.hasClip()) {
        return;
    }
    const QString file = QFileDialog::getSaveFileName(
        this, tr("Save landmarks"), QString::fromStdString(open_.clip().title + ".landmarks.csv"),
        tr("Landmarks as CSV (*.csv);;Landmarks as TRC (*.trc)"));
    if (file.isEmpty()) {
        return;
    }
    problems_.trying([&] {
        track::writeLandmarkFile(file.toStdString(), open_.rep().landmarks,
                                 open_.circumstances().time);
    });
}

void RepFilesButton::takeLandmarks() {
    if (!open_.hasClip()) {
        return;
    }
    const QString file = QFileDialog::getOpenFileName(this, tr("Take landmarks from a file"), {},
                                                      tr("Landmarks (*.csv *.trc)"));
    if (file.isEmpty()) {
        return;
    }
    problems_.trying([&] {
        const model::LandmarkTrack landmarks = track::readLandmarkFile(file.toStdString());
        if (!landmarks.empty() && landmarks.rbegin()->first >= open_.index().frameCount()) {
            throw model::InputError(
                model::message("landmarks.of_another_clip",
                               QFileInfo(file).fileName().toStdString(), landmarks.rbegin()->first,
                               open_.index().frameCount() - 1),
                model::message("safe.nothing_changed"), model::message("todo.choose_this_clips"));
        }
        repEdits_.takeLandmarks(landmarks);
    });
}

void RepFilesButton::saveBody() {
    if (!open_.hasClip()) {
        return;
    }
    problems_.trying([&] {
        const auto& body = open_.circumstances().body;
        if (!body) {
            throw model::InputError(model::message("body.none"),
                                    model::message("safe.nothing_changed"),
                                    model::message("todo.propose_landmarks"));
        }
        const auto& height = open_.circumstances().bodyHeight;
        body::requireMotion(*body, height);
        const QString file = QFileDialog::getSaveFileName(
            this, tr("Save the body in space"),
            QString::fromStdString(open_.clip().title + ".body.trc"),
            tr("Places of the joints as TRC (*.trc);;Turning joints as BVH (*.bvh)"));
        if (!file.isEmpty()) {
            body::writeMotionFile(file.toStdString(), *body, height);
        }
    });
}

} // namespace kestrel::app
