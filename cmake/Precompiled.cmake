# Most of the time of a compilation goes into reading library headers, so those that most files read are
# compiled once: a set for what computes, one for what has to do with the window, and what few targets read
# beside the standard library in sets of their own. No header of ours is among them: a change of one must
# rebuild only its readers. A file still includes what it uses; the debug preset builds without, and shows
# what is missing.
# Clang wants every definition of a target to be that of the set, so it goes without.
if(CMAKE_CXX_COMPILER_ID STREQUAL GNU)
  set(KESTREL_PRECOMPILE_DEFAULT ON)
else()
  set(KESTREL_PRECOMPILE_DEFAULT OFF)
endif()
option(KESTREL_PRECOMPILE "Compile the library headers that most files read only once" ${KESTREL_PRECOMPILE_DEFAULT})

set(KESTREL_STANDARD_HEADERS <algorithm> <array> <cmath> <filesystem> <functional> <map> <memory> <numbers> <optional>
    <ranges> <set> <span> <string> <variant> <vector>)

# kestrel_precompile(target headers...): a set of the target's own, these beside the standard library.
function(kestrel_precompile target)
  if(KESTREL_PRECOMPILE)
    target_precompile_headers(${target} PRIVATE ${KESTREL_STANDARD_HEADERS} ${ARGN})
  endif()
endfunction()

# The headers that `owner` has compiled serve `target` too.
function(kestrel_precompiled_by target owner)
  if(KESTREL_PRECOMPILE)
    target_precompile_headers(${target} REUSE_FROM ${owner})
  endif()
endfunction()

# kestrel_shared_headers(name LINKS libraries... HEADERS headers...): a set that several targets read.
function(kestrel_shared_headers name)
  cmake_parse_arguments(SHARED "" "" "LINKS;HEADERS" ${ARGN})
  if(KESTREL_PRECOMPILE)
    set(owner ${CMAKE_BINARY_DIR}/${name}.cpp)
    file(CONFIGURE OUTPUT ${owner} CONTENT "// Owns precompiled headers.\n")
    add_library(${name} STATIC ${owner})
    target_link_libraries(${name} PRIVATE ${SHARED_LINKS} kestrel_warnings)
    kestrel_precompile(${name} ${SHARED_HEADERS})
  endif()
endfunction()
