# Where everything goes: programs, what they need beside them, and what a desktop knows them by.
include(GNUInstallDirs)
set(dusk_share ${CMAKE_INSTALL_DATADIR}/gentle-dusk)
set(dusk_doc ${CMAKE_INSTALL_DATADIR}/doc/gentle-dusk)
install(TARGETS gentle-dusk gentle-dusk-batch RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
# Started by the programs alone, and found by them at ../libexec/gentle-dusk.
install(TARGETS dusk-import-worker dusk-print-worker RUNTIME DESTINATION libexec/gentle-dusk)
install(DIRECTORY app/light-sets DESTINATION ${dusk_share})
foreach(demo brackwater boathouse slipway jar table)
  install(DIRECTORY demo/${demo} DESTINATION ${dusk_share}/demo PATTERN ".*" EXCLUDE PATTERN "delivered" EXCLUDE
    PATTERN "truth.json" EXCLUDE)
endforeach()
install(FILES packaging/gentle-dusk.desktop DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
install(FILES packaging/gentle-dusk.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/mime/packages)
install(FILES packaging/gentle-dusk.thumbnailer DESTINATION ${CMAKE_INSTALL_DATADIR}/thumbnailers)
install(FILES packaging/gentle-dusk-batch.completion RENAME gentle-dusk-batch
  DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions)

string(TIMESTAMP release_date "%Y-%m-%d" UTC)
configure_file(packaging/org.gentledusk.GentleDusk.metainfo.xml
  ${CMAKE_BINARY_DIR}/packaging/org.gentledusk.GentleDusk.metainfo.xml @ONLY)
install(FILES ${CMAKE_BINARY_DIR}/packaging/org.gentledusk.GentleDusk.metainfo.xml
  DESTINATION ${CMAKE_INSTALL_DATADIR}/metainfo)

foreach(size 16 24 32 48 64 128 256)
  install(FILES packaging/icons/gentle-dusk-${size}.png RENAME gentle-dusk.png
    DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/${size}x${size}/apps)
  install(FILES packaging/icons/gentle-dusk-project-${size}.png RENAME gentle-dusk-project.png
    DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/${size}x${size}/mimetypes)
endforeach()
install(FILES packaging/icons/gentle-dusk.svg DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps)
install(FILES packaging/icons/gentle-dusk-project.svg
  DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/mimetypes)

# The manual says what the programs say of themselves.
find_program(DUSK_HELP2MAN help2man)
if(DUSK_HELP2MAN)
  foreach(program gentle-dusk gentle-dusk-batch)
    set(page ${CMAKE_BINARY_DIR}/packaging/${program}.1)
    add_custom_command(OUTPUT ${page}.gz DEPENDS ${program} ${PROJECT_SOURCE_DIR}/packaging/${program}.h2m
      COMMAND ${CMAKE_COMMAND} -E env QT_QPA_PLATFORM=offscreen HOME=${CMAKE_BINARY_DIR}/packaging ${DUSK_HELP2MAN}
        --no-info --no-discard-stderr --section 1 --source "Gentle Dusk" --help-option --help
        --include ${PROJECT_SOURCE_DIR}/packaging/${program}.h2m --output ${page} $<TARGET_FILE:${program}>
      COMMAND gzip -9nf ${page})
    list(APPEND pages ${page}.gz)
  endforeach()
  add_custom_target(manual DEPENDS ${pages})
  install(FILES ${pages} DESTINATION ${CMAKE_INSTALL_MANDIR}/man1 OPTIONAL)
endif()

# The guide as web pages, beside the one that the program shows.
find_program(DUSK_CMARK cmark-gfm)
if(DUSK_CMARK)
  file(GLOB guide CONFIGURE_DEPENDS docs/guide/*.md)
  foreach(page ${guide})
    get_filename_component(name ${page} NAME_WE)
    string(REPLACE README index name ${name})
    set(html ${CMAKE_BINARY_DIR}/packaging/guide/${name}.html)
    add_custom_command(OUTPUT ${html} DEPENDS ${page} ${PROJECT_SOURCE_DIR}/cmake/page.cmake
      COMMAND ${CMAKE_COMMAND} -DCMARK=${DUSK_CMARK} -DIN=${page} -DOUT=${html} -P ${PROJECT_SOURCE_DIR}/cmake/page.cmake)
    list(APPEND web_pages ${html})
  endforeach()
  add_custom_target(guide ALL DEPENDS ${web_pages})
  install(FILES ${web_pages} DESTINATION ${dusk_doc}/guide)
  # Their pictures lie with the program's own.
  install(CODE "file(CREATE_LINK ../../gentle-dusk/screenshots
    \$ENV{DESTDIR}\${CMAKE_INSTALL_PREFIX}/${dusk_doc}/screenshots SYMBOLIC)")
endif()

install(FILES packaging/copyright DESTINATION ${dusk_doc})
install(DIRECTORY docs/guide docs/screenshots DESTINATION ${dusk_share})

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME gentle-dusk)
set(CPACK_PACKAGE_CONTACT "The developers of Gentle Dusk <developers@gentledusk.org>")
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_STRIP_FILES ON)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SECTION graphics)
set(CPACK_DEBIAN_PACKAGE_PRIORITY optional)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_DEPENDS "liblensfun-data-v1")
set(CPACK_DEBIAN_PACKAGE_RECOMMENDS "qt6-wayland, qt6-translations-l10n, xdg-utils")
set(CPACK_DEBIAN_PACKAGE_SUGGESTS "slurm-client")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "Stand a CAD product in a photograph")
set(CPACK_DEBIAN_PACKAGE_DESCRIPTION "Finds the camera that took a photo, puts a CAD product on its ground at true
size, lights it as the place was lit, path traces it with its shadow and
passes, and blends all of it until neither eye nor numbers can tell. Also
furnishes sets of its own, and hands over every file a client asks for.

This package holds the window, the headless program gentle-dusk-batch, and
the demo projects.")
set(CPACK_INSTALL_DEFAULT_DIRECTORY_PERMISSIONS OWNER_READ OWNER_WRITE OWNER_EXECUTE GROUP_READ GROUP_EXECUTE
  WORLD_READ WORLD_EXECUTE)
file(WRITE ${CMAKE_BINARY_DIR}/packaging/changelog
"gentle-dusk (${PROJECT_VERSION}) stable; urgency=medium

  * See the log of the sources.

 -- The developers of Gentle Dusk <developers@gentledusk.org>  Fri, 27 Nov 2026 12:00:00 +0000
")
execute_process(COMMAND gzip -9nkf ${CMAKE_BINARY_DIR}/packaging/changelog)
install(FILES ${CMAKE_BINARY_DIR}/packaging/changelog.gz DESTINATION ${dusk_doc})
include(CPack)
