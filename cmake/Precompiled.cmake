# Most of the time of a compilation goes into reading library headers, so those that most files of a
# target read are compiled once. No header of ours is among them: a change of one must rebuild only its
# readers. A file still includes what it uses; the debug preset builds without, and shows what is missing.
option(KESTREL_PRECOMPILE "Compile the library headers that most files read only once" ON)

set(KESTREL_STANDARD_HEADERS <algorithm> <array> <cmath> <filesystem> <functional> <map> <memory> <numbers> <optional>
    <ranges> <set> <span> <string> <vector>)

# kestrel_precompile(target headers...): these beside the standard library.
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
