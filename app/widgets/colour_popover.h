#pragma once
#include <QFrame>
#include <functional>
#include <optional>

#include "core/base/maths.h"

class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QVBoxLayout;

namespace dusk {

class NumberField;
class Session;

/// Colours of the screen, averaged: what the popover's picking looks at outside the window, too.
Vec3d meanOfScreen(const QPoint& global, int side);

/// A colour set by its code, its light, its hue, or its temperature, or picked from anywhere on the screen;
/// every change is applied at once and together they are one undo step. Escape takes them all back. One at a
/// time.
class ColourPopover : public QFrame {
  Q_OBJECT
 public:
  using Write = std::function<void(const Vec3d& linear, int gesture)>;
  /// Opens at `beside`. `shared`: edits go through the session, so that Escape can take them back.
  static ColourPopover* open(Session& session, QWidget* beside, const QString& name, const Vec3d& now,
                             Write write);
  static ColourPopover* current();
  const Vec3d& colour() const { return colour_; }
  /// How the photo is looked at where it is shown: the mean, scene-linear, of a square of `side` pixels of
  /// the photo under a place of the screen; nothing beside it.
  using PhotoSampler = std::function<std::optional<Vec3d>(const QPoint& global, int side)>;
  /// `lit`: the same divided by the light that falls there, the colour of a surface that looks so once it is
  /// lit. What it cannot tell it says itself.
  static void setPhotoSamplers(PhotoSampler shown, PhotoSampler lit);

 protected:
  bool eventFilter(QObject* on, QEvent* e) override;
  void keyPressEvent(QKeyEvent* e) override;
  void hideEvent(QHideEvent* e) override;

 private:
  ColourPopover(Session& session, QWidget* window, const QString& name, const Vec3d& now, Write write);
  void build(const QString& name);
  void addThirds(QFormLayout* form);
  void addPickers(QVBoxLayout* column);
  void addRecent(QVBoxLayout* column);
  NumberField* number(const QString& label, const QString& tip, double low, double high, double step,
                      int decimals, const QString& unit, std::function<void(double)> set);
  void set(const Vec3d& linear);
  void show(const QWidget* except);
  enum class Picking { none, screen, photo, lit, card, byCard };
  void beginPicking(Picking from);
  void endPicking();
  void pick(const QPoint& global);
  void revert();
  void remember();

  Session& session_;
  unsigned document_;
  Write write_;
  Vec3d colour_, before_;
  int gesture_;
  bool quiet_ = false;
  Picking picking_ = Picking::none;
  QLineEdit* code_ = nullptr;
  QLabel *swatch_ = nullptr, *coded_ = nullptr;
  NumberField *linear_[3]{}, *hsv_[3]{}, *lab_[3]{}, *kelvin_ = nullptr;
  Vec3d card_{0, 0, 0};  ///< what the photo shows of a grey card
  QComboBox* side_ = nullptr;
};

}  // namespace dusk
