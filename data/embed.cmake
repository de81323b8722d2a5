# Writes demos.cpp: each demo as a raw string.
set(body "#include \"demos.h\"\n\n#include <cctype>\n\nnamespace ignavo {\n\nconst std::vector<Demo>& demos() {\n  static const std::vector<Demo> all = {\n")
foreach(file ${DEMOS})
  get_filename_component(name ${file} NAME_WE)
  file(READ ${file} text)
  string(APPEND body "      {\"${name}\", R\"~~~(${text})~~~\"},\n")
endforeach()
string(APPEND body "  };\n  return all;\n}\n\nconst Demo* demo(const std::string& name) {\n  std::string wanted;\n  for (char c : name) wanted += c == ' ' || c == '_' ? '-' : static_cast<char>(std::tolower(static_cast<unsigned char>(c)));\n  for (const Demo& d : demos())\n    if (d.name == wanted) return &d;\n  return nullptr;\n}\n\n}  // namespace ignavo\n")
file(WRITE ${OUT} "${body}")
