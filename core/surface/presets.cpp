#include "core/surface/presets.h"

namespace dusk {

const std::vector<Surface>& surfacePresets() {
  using V = Vec3d;
  // id, name, base colour, metalness, roughness, IOR, transmission, clearcoat, its roughness, emission
  static const std::vector<Surface> presets = {
      {"preset-harbour-enamel", "Harbour enamel", V(0.055, 0.19, 0.235), 0, 0.38, 1.5, 0, 0.8, 0.08,
       V(0, 0, 0)},
      {"preset-signal-enamel", "Signal enamel", V(0.62, 0.10, 0.035), 0, 0.38, 1.5, 0, 0.8, 0.08, V(0, 0, 0)},
      {"preset-chalk-paint", "Chalk paint", V(0.72, 0.70, 0.65), 0, 0.85, 1.45, 0, 0, 0.05, V(0, 0, 0)},
      {"preset-tide-brass", "Tide brass", V(0.78, 0.53, 0.22), 1, 0.24, 1.5, 0, 0, 0.05, V(0, 0, 0)},
      {"preset-bare-aluminium", "Bare aluminium", V(0.80, 0.81, 0.82), 1, 0.34, 1.5, 0, 0, 0.05, V(0, 0, 0)},
      {"preset-bright-steel", "Bright steel", V(0.62, 0.61, 0.60), 1, 0.12, 1.5, 0, 0, 0.05, V(0, 0, 0)},
      {"preset-blued-steel", "Blued steel", V(0.14, 0.16, 0.21), 1, 0.30, 1.5, 0, 0, 0.05, V(0, 0, 0)},
      {"preset-boot-rubber", "Boot rubber", V(0.022, 0.022, 0.023), 0, 0.72, 1.52, 0, 0, 0.05, V(0, 0, 0)},
      {"preset-moulded-black", "Moulded black", V(0.035, 0.035, 0.037), 0, 0.48, 1.49, 0, 0, 0.05,
       V(0, 0, 0)},
      {"preset-moulded-white", "Moulded white", V(0.74, 0.74, 0.72), 0, 0.42, 1.49, 0, 0, 0.05, V(0, 0, 0)},
      {"preset-window-glass", "Window glass", V(0.97, 0.985, 0.975), 0, 0.02, 1.52, 1, 0, 0.05, V(0, 0, 0)},
      {"preset-frosted-glass", "Frosted glass", V(0.95, 0.97, 0.965), 0, 0.45, 1.5, 1, 0, 0.05, V(0, 0, 0)},
      {"preset-oiled-ash", "Oiled ash", V(0.44, 0.28, 0.14), 0, 0.5, 1.5, 0, 0.25, 0.3, V(0, 0, 0)},
      {"preset-lamp-face", "Lamp face", V(0.8, 0.8, 0.8), 0, 0.6, 1.5, 0, 0, 0.05, V(3.0, 2.7, 2.2)},
  };
  return presets;
}

}  // namespace dusk
