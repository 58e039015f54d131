# What is installed, and the Debian package that is made of it.
include(GNUInstallDirs)
install(TARGETS pale-kettle-batch RUNTIME)
install(TARGETS kettle_pictures LIBRARY DESTINATION lib/pale-kettle)
if(TARGET pale-kettle)
  install(TARGETS pale-kettle RUNTIME)
endif()
install(DIRECTORY demo/data/ DESTINATION ${CMAKE_INSTALL_DATADIR}/pale-kettle/data
        PATTERN "exported" EXCLUDE)
install(FILES packaging/pale-kettle.desktop DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
install(FILES packaging/pale-kettle.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/mime/packages)
install(FILES packaging/pale-kettle.metainfo.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/metainfo
        RENAME io.pale_kettle.PaleKettle.metainfo.xml)
install(FILES app/resources/icons/kettle.svg DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps
        RENAME pale-kettle.svg)
install(FILES packaging/completion.bash DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions
        RENAME pale-kettle-batch)
install(FILES packaging/copyright app/resources/fonts/LICENCE-Inter.txt DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/pale-kettle)
install(FILES README.md DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/pale-kettle)
install(DIRECTORY docs/ DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/pale-kettle/docs
        PATTERN "screenshots" EXCLUDE PATTERN "PERFORMANCE.md" EXCLUDE PATTERN "mutants.md" EXCLUDE PATTERN "quality.md" EXCLUDE
        PATTERN "jobs.md" EXCLUDE)
install(DIRECTORY farm DESTINATION ${CMAKE_INSTALL_DATADIR}/pale-kettle USE_SOURCE_PERMISSIONS)
# Debian wants them compressed, without a time in them.
find_program(GZIP gzip)
foreach(page pale-kettle.1 pale-kettle-batch.1 changelog)
  add_custom_command(OUTPUT ${CMAKE_BINARY_DIR}/packaging/${page}.gz
    COMMAND ${CMAKE_COMMAND} -E make_directory ${CMAKE_BINARY_DIR}/packaging
    COMMAND sh -c "${GZIP} -9nc ${CMAKE_SOURCE_DIR}/packaging/${page} > ${CMAKE_BINARY_DIR}/packaging/${page}.gz"
    DEPENDS ${CMAKE_SOURCE_DIR}/packaging/${page} VERBATIM)
  list(APPEND pages ${CMAKE_BINARY_DIR}/packaging/${page}.gz)
endforeach()
add_custom_target(pages ALL DEPENDS ${pages})
install(FILES ${CMAKE_BINARY_DIR}/packaging/pale-kettle.1.gz ${CMAKE_BINARY_DIR}/packaging/pale-kettle-batch.1.gz
        DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
install(FILES ${CMAKE_BINARY_DIR}/packaging/changelog.gz DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/pale-kettle)

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME pale-kettle)
set(CPACK_PACKAGE_CONTACT "The Pale Kettle developers <pale-kettle@example.org>")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "recolour and blend finished texture sets")
set(CPACK_DEBIAN_PACKAGE_DESCRIPTION
"Pale Kettle recolours and blends finished texture sets in a network of
 steps, seen at once on a lit model: shifts of hue, saturation and value,
 ramps, blends, channel maths, masks, layers and variation by object.
 Results are kept as looks and written in open formats.")
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_PACKAGE_DIRECTORY ${CMAKE_BINARY_DIR}/package)
set(CPACK_STRIP_FILES ON)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SECTION graphics)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
# Without it Qt finds no screen, and no way to draw icons.
set(CPACK_DEBIAN_PACKAGE_DEPENDS "qt6-qpa-plugins, libqt6svg6")
set(CPACK_DEBIAN_PACKAGE_CONTROL_STRICT_PERMISSION ON)
set(CPACK_INSTALL_DEFAULT_DIRECTORY_PERMISSIONS OWNER_READ OWNER_WRITE OWNER_EXECUTE GROUP_READ GROUP_EXECUTE WORLD_READ WORLD_EXECUTE)
include(CPack)
