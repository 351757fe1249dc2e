# A program's libraries are searched for each symbol in the order they are named. The picture library brings some two
# hundred, a few of which ask for as many symbols as all others together and come last: named first, a program starts in
# half the time. Which they are is looked up where this is built; where there are none, nothing changes.
get_target_property(picture_library OpenImageIO::OpenImageIO IMPORTED_LOCATION_NONE)
if(NOT picture_library)
  get_target_property(picture_library OpenImageIO::OpenImageIO LOCATION)
endif()
execute_process(COMMAND ldd ${picture_library} OUTPUT_VARIABLE brought ERROR_QUIET)
set(early_libraries "")
foreach(name libstdc\\+\\+ libopenvdb libgdal libxerces-c libdcmdata)
  if(brought MATCHES "=> ([^ \n]*/${name}[^ \n]*)")
    list(APPEND early_libraries ${CMAKE_MATCH_1})
  endif()
endforeach()
if(early_libraries)
  list(JOIN early_libraries " " early_libraries)
  set(early_libraries "LINKER:--push-state,--no-as-needed" "SHELL:${early_libraries}" "LINKER:--pop-state")
endif()
