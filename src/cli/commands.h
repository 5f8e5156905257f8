#pragma once

#include "model/record.h"

#include <CLI/CLI.hpp>

#include <functional>

/// Each function adds its commands to the program; the work is done in their callbacks.
namespace kestrel::cli {

/// What day it is, once the options are read: the computer's day or what --today says. Throws
/// WrongUse when that is no day.
using Today = std::function<model::Day()>;

/// Makes Qt ready to paint pages; what writes sheets calls it first.
using UsePictures = std::function<void()>;

void addFilmCommands(CLI::App& program);     ///< probe, frames, reps
void addLandmarkCommands(CLI::App& program); ///< pose, track
void addGroundCommand(CLI::App& program);    ///< ground
/// positions, measure, review
void addMeasureCommands(CLI::App& program, const Today& today, const UsePictures& usePictures);
/// packs list, show, card, check
void addPackCommands(CLI::App& program, const UsePictures& usePictures);
void addLibraryCommands(CLI::App& program, const Today& today); ///< library list, add, prepare
void addDemoCommands(CLI::App& program); ///< demo films, render, motion, sheet, list

} // namespace kestrel::cli
