# Writes the commit to a header; the header stays as it is where both are the same, so that
# nothing is compiled anew. Run at every build: cmake -DSOURCE=… -DOUT=… -P commit.cmake
execute_process(COMMAND git -C ${SOURCE} rev-parse --short=12 HEAD OUTPUT_VARIABLE commit
                OUTPUT_STRIP_TRAILING_WHITESPACE ERROR_QUIET RESULT_VARIABLE failed)
if(failed OR commit STREQUAL "")
  set(commit "unknown")
endif()
file(CONFIGURE OUTPUT ${OUT} CONTENT "#define DUSK_COMMIT \"${commit}\"\n")
