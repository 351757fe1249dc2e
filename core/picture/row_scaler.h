#pragma once
#include "core/picture/picture.h"

namespace dusk {

/// Brings a picture to another size while its rows come from the top, with a few of them held: by Catmull and
/// Rom's cubic, drawn wider where the picture is made smaller (Mitchell & Netravali 1988, "Reconstruction
/// Filters in Computer Graphics", B = 0, C = 1/2). What is even stays even. The rows are the same however
/// they come.
class RowScaler {
 public:
  RowScaler(int fromWidth, int fromHeight, int toWidth, int toHeight, int channels);
  /// Takes the next rows, and gives those that can be made now, which may be none. Requires the channels.
  Picture add(const Picture& rows);

 private:
  /// What one value of the result is made of: from `first` on, with weights that come to one.
  struct Taps {
    int first = 0;
    std::vector<float> weights;
  };
  static std::vector<Taps> tapsOf(int from, int to);

  int fromWidth_, toWidth_, toHeight_, channels_;
  std::vector<Taps> across_, down_;
  std::vector<float> held_;  ///< rows of the new width, from `heldFrom_` on
  int heldFrom_ = 0, taken_ = 0, made_ = 0;
};

}  // namespace dusk
