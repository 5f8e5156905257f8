# The parts of OpenCV in use, one by one: Debian's CMake package of OpenCV comes only with all of it,
# which brings a toolkit for 3-D pictures and its hundreds of megabytes along.
find_path(OPENCV_HEADERS opencv2/core.hpp PATH_SUFFIXES opencv4 REQUIRED)
add_library(opencv_parts INTERFACE)
target_include_directories(opencv_parts SYSTEM INTERFACE ${OPENCV_HEADERS})
foreach(part core imgproc video calib3d)
  find_library(OPENCV_${part} opencv_${part} REQUIRED)
  target_link_libraries(opencv_parts INTERFACE ${OPENCV_${part}})
endforeach()
