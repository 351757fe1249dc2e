#include "app/stations/blend/scopes_desk.h"

#include <QtWidgets>
#include <cmath>

#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {
namespace {

/// "12 · 118 · 231", and how warm and strong its mean colour is.
QString wordsFor(const Tones& t) {
  return QString("%L1 · %L2 · %L3   a* %L4  b* %L5")
      .arg(t.dark, 0, 'f', 0)
      .arg(t.middle, 0, 'f', 0)
      .arg(t.light, 0, 'f', 0)
      .arg(t.a, 0, 'f', 1)
      .arg(t.b, 0, 'f', 1);
}

/// A field of shares as a picture of one colour: a share that is even all over would be a faint tint.
QImage drawn(const std::vector<float>& shares, int across, const QColor& colour) {
  const int down = int(shares.size()) / std::max(1, across);
  QImage image(across, std::max(1, down), QImage::Format_ARGB32_Premultiplied);
  image.fill(Qt::transparent);
  for (int y = 0; y < down; ++y)
    for (int x = 0; x < across; ++x) {
      const float share = shares[size_t(y) * size_t(across) + size_t(x)] * float(across) * float(down);
      if (share <= 0) continue;
      const int alpha = int(255 * std::min(1.0, 0.22 * std::sqrt(double(share))));
      image.setPixelColor(x, down - 1 - y, look::faded(colour, alpha));
    }
  return image;
}

}  // namespace

ScopeView::ScopeView(QWidget* parent) : QWidget(parent) {
  setFixedHeight(look::px(150));
  setAccessibleName(words("Scope"));
}

void ScopeView::setKind(Kind kind) {
  kind_ = kind;
  update();
}

void ScopeView::setScopes(std::shared_ptr<const Scopes> scopes) {
  scopes_ = std::move(scopes);
  if (scopes_)
    setAccessibleDescription(words("Product ") + wordsFor(scopes_->product) + words("; photo ") +
                             wordsFor(scopes_->photo));
  update();
}

void ScopeView::paintEvent(QPaintEvent*) {
  QPainter painter(this);
  painter.setRenderHint(QPainter::Antialiasing);
  const QRectF box = QRectF(rect()).adjusted(1, 4, -1, -4);
  painter.setPen(Qt::NoPen);
  painter.setBrush(look::field());
  painter.drawRoundedRect(box, 4, 4);
  if (!scopes_ || scopes_->product.pixels + scopes_->photo.pixels == 0) {
    painter.setPen(look::muted());
    painter.drawText(box, Qt::AlignCenter, words("Nothing to measure yet"));
    return;
  }
  const QRectF inner = box.adjusted(6, 6, -6, -6);
  if (kind_ == Kind::histogram) return paintHistogram(painter, inner);
  paintField(painter, inner, kind_ == Kind::circle);
}

/// Brightness: the photo's as a filled ground, the product's as a line over it; each as high as its highest.
void ScopeView::paintHistogram(QPainter& painter, const QRectF& box) const {
  const auto path = [&](const Tones& t, bool closed) {
    std::array<double, 128> bins{};
    for (size_t i = 0; i < 256; ++i) bins[i / 2] += double(t.histogram[3][i]);
    const double most = std::max(1e-9, *std::max_element(bins.begin(), bins.end()));
    QPolygonF line;
    for (size_t i = 0; i < bins.size(); ++i)
      // Its root: what is rare is seen, too.
      line << QPointF(box.left() + box.width() * double(i) / 127,
                      box.bottom() - box.height() * std::sqrt(bins[i] / most));
    if (closed) line << box.bottomRight() << box.bottomLeft();
    return line;
  };
  painter.setPen(Qt::NoPen);
  painter.setBrush(look::faded(look::muted(), 110));
  if (scopes_->photo.pixels > 0) painter.drawPolygon(path(scopes_->photo, true));
  painter.setBrush(Qt::NoBrush);
  painter.setPen(QPen(look::ember(), 1.6));
  if (scopes_->product.pixels > 0) painter.drawPolyline(path(scopes_->product, false));
}

void ScopeView::paintField(QPainter& painter, const QRectF& whole, bool circle) const {
  QRectF box = whole;
  const int across = circle ? Tones::side : Tones::across;
  if (circle) {
    box = QRectF(whole.center().x() - whole.height() / 2, whole.top(), whole.height(), whole.height());
    painter.setPen(QPen(look::line(), 1));
    painter.setBrush(Qt::NoBrush);
    for (const double r : {1.0, 2.0 / 3, 1.0 / 3})
      painter.drawEllipse(box.center(), box.width() / 2 * r, box.height() / 2 * r);
    painter.drawLine(QPointF(box.left(), box.center().y()), QPointF(box.right(), box.center().y()));
    painter.drawLine(QPointF(box.center().x(), box.top()), QPointF(box.center().x(), box.bottom()));
  }
  painter.setRenderHint(QPainter::SmoothPixmapTransform);
  const auto lay = [&](const Tones& t, const QColor& colour) {
    if (t.pixels > 0) painter.drawImage(box, drawn(circle ? t.circle : t.waveform, across, colour));
  };
  lay(scopes_->photo, look::text()), lay(scopes_->product, look::ember());
  if (!circle) return;
  painter.setPen(look::muted());
  painter.setFont(look::small());
  painter.drawText(QRectF(box.left(), box.top(), box.width(), 14), Qt::AlignHCenter, words("yellow"));
  painter.drawText(QRectF(box.left(), box.bottom() - 14, box.width(), 14), Qt::AlignHCenter, words("blue"));
  painter.drawText(QRectF(box.right() + 3, box.center().y() - 7, 60, 14), Qt::AlignLeft, words("red"));
  painter.drawText(QRectF(box.left() - 63, box.center().y() - 7, 60, 14), Qt::AlignRight, words("green"));
}

ScopesDesk::ScopesDesk(Workbench& bench)
    : Desk(bench.session, {}, {}),
      bench_(bench),
      view_(new ScopeView),
      kind_(new QComboBox),
      ends_(new QCheckBox(words("Mark what is clipped"))) {
  setAccessibleName(words("Scopes"));
  kind_->addItems({words("Histogram"), words("Waveform"), words("Colour circle")});
  kind_->setToolTip(
      words("Histogram: how much there is of each brightness. Waveform: brightness along the picture's "
            "width. Colour circle: a* and b* of CIELAB, to 60"));
  add(labelled(words("Show"), kind_));
  connect(kind_, &QComboBox::activated, this, [this](int i) { view_->setKind(ScopeView::Kind(i)); });
  add(view_);
  product_ = note(), photo_ = note(), says_ = note();
  const QString tip =
      words("Codes below which 1, 50 and 99 % of the brightness lies, and the mean colour in CIELAB");
  product_->setToolTip(tip), photo_->setToolTip(tip);
  ends_->setToolTip(words(
      "Stripes in the picture, on the product and where it changes the photo: rising rose ones are burnt "
      "out, "
      "falling blue ones black, level orange ones a colour beyond the screen's"));
  connect(ends_, &QCheckBox::toggled, this, [this] { ask(); });
  add(ends_);
  connect(&bench_.preview, &Preview::frameReady, this, &ScopesDesk::take);
}

void ScopesDesk::ask() { bench_.preview.measureTones(isVisible(), isVisible() && ends_->isChecked()); }

void ScopesDesk::showEvent(QShowEvent* e) {
  Desk::showEvent(e);
  ask();
}

void ScopesDesk::hideEvent(QHideEvent* e) {
  bench_.preview.measureTones(false, false);
  Desk::hideEvent(e);
}

void ScopesDesk::take(const std::shared_ptr<const Frame>& frame) {
  if (!isVisible() || !frame->scopes || frame->shotId != session_.shot().id) return;
  const Scopes& s = *frame->scopes;
  view_->setScopes(frame->scopes);
  product_->setText(s.product.pixels ? words("<b>Product</b> ") + wordsFor(s.product)
                                     : words("No product in the picture."));
  photo_->setText(words("<b>Photo</b> ") + wordsFor(s.photo));
  says_->setText(s.sameDepth
                     ? QString(words("The photo's ground from %1 to %2 m: as far away as the product."))
                           .arg(s.fromM, 0, 'f', 2)
                           .arg(s.toM, 0, 'f', 2)
                     : words("All of the photo: too little of its ground is as far away as the product."));
}

}  // namespace dusk
