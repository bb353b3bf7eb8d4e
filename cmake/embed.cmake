# embed_text(<out.cpp> <function> <file>...): a C++ file that defines, in namespace uneven,
#   std::vector<EmbeddedText> <function>();   (declared in core/base/embedded.h)
# with the name (without folder and ending) and the text of each file, so that the programs need no
# data folder at run time.
function(embed_text out function)
  set(body "")
  foreach(file IN LISTS ARGN)
    set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${file})
    get_filename_component(name ${file} NAME_WE)
    file(READ ${file} text)
    string(APPEND body "      {\"${name}\", R\"ustick(${text})ustick\"},\n")
  endforeach()
  file(CONFIGURE OUTPUT ${out} @ONLY CONTENT
"// Made by cmake/embed.cmake from the files in data/. Do not edit.
#include \"core/base/embedded.h\"
namespace uneven {
std::vector<EmbeddedText> ${function}() {
  return {
${body}  };
}
}  // namespace uneven
")
endfunction()
