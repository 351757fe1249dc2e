#pragma once
#include <memory>

#include "core/picture/picture.h"

namespace dusk {

/// Memory for so many floats, with whatever it holds; when it is let go it waits for the next who asks for as
/// much.
std::shared_ptr<float[]> sheetMemory(size_t floats);
/// Gives back to the system what waits.
void giveBackSheets();

/// Some channels of an area of a picture, plane after plane, or a look at some that another holds. Places are
/// those of the whole picture.
class Sheet {
 public:
  Sheet() = default;
  /// With whatever the memory holds.
  Sheet(const PixelArea& area, int channels)
      : area(area),
        channels(channels),
        stride_(size_t(area.width())),
        plane_(stride_ * size_t(area.height())),
        data_(sheetMemory(plane_ * size_t(channels))) {}

  PixelArea area;
  int channels = 0;

  /// From the area's first pixel on.
  float* row(int channel, int y) {
    return data_.get() + size_t(channel) * plane_ + size_t(y - area.y0) * stride_;
  }
  const float* row(int channel, int y) const { return const_cast<Sheet*>(this)->row(channel, y); }
  float at(int channel, int x, int y) const { return row(channel, y)[x - area.x0]; }
  bool covers(const PixelArea& a) const {
    return a.x0 >= area.x0 && a.y0 >= area.y0 && a.x1 <= area.x1 && a.y1 <= area.y1;
  }
  /// Some of it, in the same memory.
  Sheet look(const PixelArea& a) const {
    Sheet part = *this;
    part.area = a;
    part.data_ = std::shared_ptr<float[]>(data_, const_cast<float*>(row(0, a.y0)) + (a.x0 - area.x0));
    return part;
  }
  bool empty() const { return !data_; }
  size_t bytes() const { return plane_ * size_t(channels) * sizeof(float); }

 private:
  size_t stride_ = 0, plane_ = 0;
  std::shared_ptr<float[]> data_;
};

}  // namespace dusk
