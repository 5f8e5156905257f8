# Rooms: one library a folder of src/. A room's headers are reached as "room/header.h" through an
# include folder of the room's own, so an #include only compiles when the target that owns the
# header is linked, itself or through another room. What a room declares as used is written to
# rooms.txt, and tests/tools/test_rooms compares it with what its files include.

file(WRITE ${CMAKE_BINARY_DIR}/rooms.txt "")

# Links `target`, the room of that name, with the rooms it uses, and writes them down.
function(kestrel_uses target room)
  foreach(used IN LISTS ARGN)
    target_link_libraries(${target} PUBLIC kestrel_${used})
  endforeach()
  list(JOIN ARGN " " names)
  file(APPEND ${CMAKE_BINARY_DIR}/rooms.txt "${room}: ${names}\n")
endfunction()

add_library(kestrel_warnings INTERFACE)
target_compile_options(kestrel_warnings INTERFACE -Wall -Wextra -Wpedantic -Werror)
if(CMAKE_CXX_COMPILER_ID STREQUAL GNU AND CMAKE_CXX_COMPILER_VERSION VERSION_LESS 13)
  # GCC 12 warns of overlapping copies in inlined std::string code where there are none (GCC PR 105651).
  target_compile_options(kestrel_warnings INTERFACE -Wno-restrict)
  if(KESTREL_PRECOMPILE)
    # What it inlines from a precompiled <string> it no longer knows to be a system header's (GCC PR 105329, 105651).
    target_compile_options(kestrel_warnings INTERFACE -Wno-stringop-overflow -Wno-array-bounds)
  endif()
endif()
if(CMAKE_UNITY_BUILD)
  # Files compiled together look like headers, whose types could not have fields that are their own.
  target_compile_options(kestrel_warnings INTERFACE $<$<CXX_COMPILER_ID:GNU>:-Wno-subobject-linkage>)
endif()
if(KESTREL_FUZZ)
  target_compile_options(kestrel_warnings INTERFACE -fsanitize=fuzzer-no-link)
endif()
if(KESTREL_SANITIZE)
  target_compile_options(kestrel_warnings INTERFACE -fsanitize=address,undefined
                         -fno-sanitize-recover=undefined -fno-omit-frame-pointer
                         $<$<CXX_COMPILER_ID:GNU>:-Wno-maybe-uninitialized>) # instrumented headers set it off
  target_link_options(kestrel_warnings INTERFACE -fsanitize=address,undefined)
endif()

# For targets whose time goes into other targets' code: compiled quickly rather than to run fast.
function(kestrel_waits_for_others target)
  target_compile_options(${target} PRIVATE $<$<CONFIG:Release>:-O1>)
endfunction()

# Lets `target` and all that link it reach the headers of `folder` as "name/header.h", and no others.
function(kestrel_include_root_of target folder name)
  set(root ${CMAKE_BINARY_DIR}/include/${name})
  file(MAKE_DIRECTORY ${root})
  file(CREATE_LINK ${folder} ${root}/${name} SYMBOLIC)
  target_include_directories(${target} PUBLIC ${root})
endfunction()

function(kestrel_include_root target room)
  kestrel_include_root_of(${target} ${CMAKE_SOURCE_DIR}/src/${room} ${room})
endfunction()

# kestrel_room(NAME name SOURCES ... USES rooms... LINKS libraries... [WINDOW_HEADERS] [PRECOMPILES headers...]): reads the
# headers compiled for what computes, for what has to do with the window, or a set of its own.
function(kestrel_room)
  cmake_parse_arguments(ROOM "WINDOW_HEADERS" "NAME" "SOURCES;USES;LINKS;PUBLIC_LINKS;PRECOMPILES" ${ARGN})
  set(target kestrel_${ROOM_NAME})
  add_library(${target} STATIC ${ROOM_SOURCES})
  kestrel_include_root(${target} ${ROOM_NAME})
  kestrel_uses(${target} ${ROOM_NAME} ${ROOM_USES})
  target_link_libraries(${target} PUBLIC ${ROOM_PUBLIC_LINKS} PRIVATE ${ROOM_LINKS} kestrel_warnings)
  if(ROOM_PRECOMPILES)
    kestrel_precompile(${target} ${ROOM_PRECOMPILES})
  elseif(ROOM_WINDOW_HEADERS)
    kestrel_waits_for_others(${target})
    kestrel_precompiled_by(${target} kestrel_window_headers)
  else()
    kestrel_precompiled_by(${target} kestrel_headers)
  endif()
endfunction()
