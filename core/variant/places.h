#pragma once
#include <map>
#include <nlohmann/json.hpp>
#include <optional>
#include <string>
#include <vector>

#include "core/project/project.h"

/// Places in the document, as variants and motion name them: JSON Pointers with ids in place of numbers where
/// a list's things have ids, and with the words themselves where a list is a set of them.
namespace dusk {

/// A project that is changed by places. Only the products, surfaces, rigs and shots that are touched become
/// JSON, and are read back at the end.
class PlacedEdit {
 public:
  explicit PlacedEdit(Project project) : project_(std::move(project)) {}

  /// What is at a place; nothing where there is no such place.
  std::optional<nlohmann::json> at(const std::string& place);
  /// Puts a value there, over what is there or as new. False where what should hold it is not there.
  bool put(const std::string& place, const nlohmann::json& value);
  /// Makes a place as it is in `from`: what is back in a list is back at its place there.
  void putAsIn(PlacedEdit& from, const std::string& place);
  /// Takes away what is there; nothing happens where nothing is.
  void take(const std::string& place);

  struct Done {
    Project project;
    std::vector<std::string>
        refused;  ///< pieces ("/surfaces/surface-2") that came to no sound value: left as they were
  };
  Done done() &&;

 private:
  struct Touched {
    nlohmann::json value;
    bool gone = false;
  };
  /// The product, surface, rig or shot that a place of at least two tokens is in; nullptr of another list.
  Touched* touched(const std::vector<std::string>& tokens);
  /// The list a place is in; nullptr where it is in none.
  nlohmann::json* listOf(const std::string& place);
  Project project_;
  std::map<std::string, Touched> touched_;  ///< by "/surfaces/surface-2"; "/name" for the name
};

/// What leads from one project to the other, as places with their values there, each as deep as it is all
/// that differs below. The order of lists is not told, nor are variants and choices.
std::vector<VariantChange> differences(const Project& from, const Project& to);

/// A word as it stands in a place (RFC 6901).
std::string escaped(const std::string& token);

/// Whether one place is the other, or lies in it.
bool isWithin(const std::string& place, const std::string& outer);

/// What a place is, in words for people: "Cream enamel: base colour".
std::string inWords(const Project& project, const std::string& place);

}  // namespace dusk
