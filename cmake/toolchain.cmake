# Warnings, sanitizers, and the faster linker and compiler cache when they are there.
add_compile_options(-Wall -Wextra)
if(CMAKE_BUILD_TYPE STREQUAL "Release")
  # Without lines for debuggers, a fifth of the compiler's time; symbols stay. The other presets have them.
  set(CMAKE_CXX_FLAGS_RELEASE "-O2")
endif()

# The compiler tidies its memory from 128 MB on, again and again: a twelfth of its time. No file here needs 1.5 GB.
if(CMAKE_CXX_COMPILER_ID STREQUAL "GNU")
  add_compile_options("SHELL:--param ggc-min-heapsize=1500000")
endif()

find_program(DUSK_CCACHE ccache)
if(DUSK_CCACHE)
  set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env CCACHE_SLOPPINESS=pch_defines,time_macros ${DUSK_CCACHE})
  add_compile_options(-fpch-preprocess)
endif()
find_program(DUSK_MOLD mold)
if(DUSK_MOLD)
  add_link_options(-fuse-ld=mold)
endif()

set(DUSK_SANITIZE "" CACHE STRING "Sanitizers for every target: 'address,undefined' or 'thread'; empty for none")
set_property(CACHE DUSK_SANITIZE PROPERTY STRINGS "" "address,undefined" "thread")
if(DUSK_SANITIZE MATCHES "thread" AND DUSK_SANITIZE MATCHES "address")
  message(FATAL_ERROR "DUSK_SANITIZE: address and thread cannot be combined")
endif()
if(DUSK_SANITIZE)
  set(CMAKE_CXX_FLAGS_RELWITHDEBINFO "-O1 -g1")
  add_compile_options(-fsanitize=${DUSK_SANITIZE} -fno-omit-frame-pointer)
  add_link_options(-fsanitize=${DUSK_SANITIZE})
endif()
