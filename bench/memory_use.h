#pragma once
#include <cstdlib>
#include <fstream>
#include <string>

namespace dusk {

/// Megabytes of a line of what the system tells of this program.
inline double memoryMb(const char* line) {
  std::ifstream status("/proc/self/status");
  const std::string head = std::string(line) + ":";
  for (std::string each; std::getline(status, each);)
    if (each.starts_with(head)) return std::atof(each.c_str() + head.size()) / 1024;
  return 0;
}
/// Megabytes that the program holds now, and held at most.
inline double residentMb() { return memoryMb("VmRSS"); }
inline double mostResidentMb() { return memoryMb("VmHWM"); }

}  // namespace dusk
