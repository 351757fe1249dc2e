#pragma once

namespace dusk {

/// The steps of the work, in its order. What each is called and made of says the table in app/stations.
enum class Station { plate, vantage, product, surface, light, contact, render, blend, deliver };
inline constexpr int stationCount = 9;

}  // namespace dusk
