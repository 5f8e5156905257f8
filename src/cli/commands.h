#pragma once

#include <CLI/CLI.hpp>

/// Each function adds its commands to the program; the work is done in their callbacks.
namespace kestrel::cli {

void addFilmCommands(CLI::App& program);     ///< probe, frames, reps
void addLandmarkCommands(CLI::App& program); ///< pose, track
void addGroundCommand(CLI::App& program);    ///< ground
void addMeasureCommands(CLI::App& program);  ///< positions, measure, review
void addPackCommands(CLI::App& program);     ///< packs list, show, card, check
void addLibraryCommands(CLI::App& program);  ///< library list, add, prepare
void addDemoCommands(CLI::App& program);     ///< demo make, films, render, motion, sheet, list

} // namespace kestrel::cli
