#include "app/window/proof_strip.h"

#include <QtWidgets>

#include <set>

#include "app/stations/stations.h"
#include "app/widgets/look.h"
#include "app/widgets/words.h"
#include "core/base/words.h"

namespace dusk {

/// One proof: a caption, a picture or dial, the number and what it should be.
class ProofStrip::Card : public QAbstractButton {
 public:
  enum Kind { edges, shadows, lines, contact, tone, height, others };
  Card(ProofStrip& strip, Kind kind, const QString& caption, Station station)
      : QAbstractButton(&strip), strip_(strip), kind_(kind), caption_(caption) {
    setAccessibleName(words("Proof: ") + caption);
    setCursor(Qt::PointingHandCursor);
    setFocusPolicy(Qt::TabFocus);
    setMinimumWidth(look::px(kind == edges ? 250 : kind == shadows ? 220 : 130));
    connect(this, &QAbstractButton::clicked, this, [this, station] {
      const Finding* f = kind_ == others ? finding() : nullptr;
      const StationInfo* its = f ? stationNamed(f->station) : nullptr;
      strip_.session_.setStation(its ? its->station : station);
    });
  }

  /// The card's finding; of several of a kind, the one that is furthest from the middle of what is allowed.
  const Finding* finding() const {
    if (kind_ == others) return strip_.othersOff_.empty() ? nullptr : strip_.othersOff_.front();
    static const char* ids[] = {"edge-softness", "shadow-angle", "line-fit",
                                "contact-gap",   "ground-tone",  "height-reference"};
    const Finding* worst = nullptr;
    const auto off = [](const Finding& f) {
      return std::abs(f.value - (f.low + f.high) / 2) / std::max(1e-9, f.high - f.low);
    };
    // A shadow that falls another way is worse than one of another look.
    if (const Finding* angle =
            strip_.proofs_ && kind_ == shadows ? strip_.proofs_->find("shadow-angle") : nullptr;
        angle && angle->ok())
      for (const char* id : {"shadow-darkness", "shadow-softness", "shadow-colour"})
        if (const Finding* look = strip_.proofs_->find(id); look && !look->ok()) return look;
    // A shadow that is cut is worse than a gap.
    if (strip_.proofs_ && kind_ == contact)
      for (const char* id : {"catcher-cut", "border"})
        if (const Finding* cut = strip_.proofs_->find(id); cut && !cut->ok()) return cut;
    if (strip_.proofs_)
      for (const Finding& f : strip_.proofs_->findings)
        if (f.id == ids[kind_] && (!worst || off(f) > off(*worst))) worst = &f;
    return worst;
  }

  void refresh() {
    const Finding* f = finding();
    setToolTip(
        !f ? missing()
           : QString::fromStdString(f->ok() ? f->what + words(": holds") : f->what + ". " + f->remedy));
    // Only a photo with something of known height in it has the one card, only what is off the other.
    if (kind_ == height || kind_ == others) setVisible(f != nullptr);
    update();
  }

 protected:
  void paintEvent(QPaintEvent*) override {
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(rect()).adjusted(3, 3, -3, -3);
    p.setPen(hasFocus() ? QPen(look::ember(), 1.2) : QPen(look::line(), 1));
    p.setBrush(underMouse() ? look::raised() : look::panel());
    p.drawRoundedRect(box, 7, 7);
    p.setFont(look::small());
    p.setPen(look::muted());
    p.drawText(box.adjusted(10, 6, -8, 0), Qt::AlignTop | Qt::AlignLeft, caption_);
    const Finding* f = finding();
    if (f) {
      // The mark says it besides the colour: a tick or a cross.
      p.setPen(QPen(f->ok() ? look::moss() : look::rose(), 2));
      const QPointF c = box.topRight() + QPointF(-15, 14);
      if (f->ok())
        p.drawPolyline(QPolygonF{c + QPointF(-5, 0), c + QPointF(-1, 4), c + QPointF(6, -5)});
      else
        p.drawLine(c + QPointF(-4, -4), c + QPointF(4, 4)),
            p.drawLine(c + QPointF(-4, 4), c + QPointF(4, -4));
    }
    const QRectF body = box.adjusted(10, look::px(24), -10, -8);
    if (kind_ == edges) return paintEdges(p, body, f);
    if (kind_ == shadows) return paintShadows(p, body, f);
    if (kind_ == others) return paintOthers(p, body, f);
    paintNumber(p, body, f);
  }

 private:
  QString missing() const {
    if (kind_ != contact && strip_.session_.shot().backdrop.kind != BackdropKind::photo)
      return words("Compares with the photo; this picture has none.");
    switch (kind_) {
      case edges:
        return words(
            "Shown once a few samples are in, and the product is large enough in the photo to have edges "
            "that can be measured.");
      case shadows:
        if (strip_.session_.shot().gnomon)
          return words(
              "Nothing in this light throws a shadow that could be laid beside the photo's: its sun is "
              "missing, or too soft.");
        if (strip_.proofs_ && !strip_.proofs_->shadows.productDegrees)
          return words(
              "This light is soft: it throws no shadow that could be laid beside one of the photo's.");
        return words(
            "Mark a gnomon at the Light station: the foot and shadow tip of something upright in the "
            "photo.");
      case lines:
        return words("Shown once the vantage is solved.");
      case contact:
        return words("Shown once a product is placed.");
      case tone:
      case height:
      case others:
        break;
    }
    return words("Shown once a product is placed in a solved photo with light.");
  }

  /// Draws it, and says where it ends.
  QPointF number(QPainter& p, const QPointF& at, const Finding& f, int decimals) const {
    const QString text = decimal(f.value, decimals) + unitAfter(unit(f));
    p.setFont(look::large());
    p.setPen(f.ok() ? look::tide() : look::rose());
    p.drawText(at, text);
    return at + QPointF(p.fontMetrics().horizontalAdvance(text), 0);
  }
  static QString unit(const Finding& f) {
    return f.unit == "deg" ? "°" : f.unit == "x" ? "×" : QString::fromStdString(f.unit);
  }

  void paintNumber(QPainter& p, const QRectF& body, const Finding* f) const {
    if (!f) return paintMissing(p, body);
    const int decimals = kind_ == tone ? 0 : 1;
    number(p, body.topLeft() + QPointF(0, look::px(24)), *f, decimals);
    // Where the number lies in its range.
    const QRectF track(body.left(), body.top() + look::px(40), body.width(), 5);
    p.setPen(Qt::NoPen);
    p.setBrush(look::field());
    p.drawRoundedRect(track, 2.5, 2.5);
    const double span = f->high - f->low, from = f->low - 0.25 * span, to = f->high + 0.25 * span;
    const auto x = [&](double v) {
      return track.left() + track.width() * std::clamp((v - from) / (to - from), 0.0, 1.0);
    };
    p.setBrush(look::faded(look::moss(), 110));
    p.drawRoundedRect(QRectF(QPointF(x(f->low), track.top()), QPointF(x(f->high), track.bottom())), 2.5, 2.5);
    p.setBrush(f->ok() ? look::tide() : look::rose());
    p.drawRoundedRect(QRectF(x(f->value) - 2, track.top() - 4, 4, 13), 2, 2);
    p.setFont(look::small());
    p.setPen(look::muted());
    p.drawText(QRectF(body.left(), track.bottom() + 6, body.width(), look::px(16)), Qt::AlignLeft,
               QString(words("%1 to %2")).arg(decimal(f->low, decimals), decimal(f->high, decimals)) +
                   unitAfter(unit(*f)));
  }

  /// What a client would say of the first, and how many more there are.
  void paintOthers(QPainter& p, const QRectF& body, const Finding* f) const {
    if (!f) return;
    p.setFont(look::small());
    p.setPen(look::text());
    p.drawText(body, Qt::AlignLeft | Qt::AlignTop | Qt::TextWordWrap,
               QString::fromStdString(f->says.empty() ? f->what : f->says));
    p.setPen(look::rose());
    const int more = int(strip_.othersOff_.size()) - 1;
    p.drawText(body, Qt::AlignLeft | Qt::AlignBottom,
               more ? QString(words("and %1 more thing", "and %1 more things", more)).arg(more)
                    : decimal(f->value, 1) + unitAfter(unit(*f)));
  }

  void paintMissing(QPainter& p, const QRectF& body) const {
    p.setFont(look::small());
    p.setPen(look::muted());
    p.drawText(body, Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap, missing());
  }

  void paintEdges(QPainter& p, const QRectF& body, const Finding* f) const {
    const auto& proofs = strip_.proofs_;
    if (!f || proofs->productEdge.isNull() || proofs->photoEdge.isNull()) return paintMissing(p, body);
    const double side = body.height() - look::px(13);
    double x = body.left();
    p.setFont(look::small());
    for (const auto& [image, name, edge] :
         {std::tuple(&proofs->productEdge, words("product"), &proofs->edges.product),
          std::tuple(&proofs->photoEdge, words("photo"), &proofs->edges.photo)}) {
      const QRectF place(x, body.top(), side, side);
      p.drawImage(place, *image);
      p.setPen(QPen(look::line(), 1));
      p.setBrush(Qt::NoBrush);
      p.drawRect(place);
      p.setPen(look::muted());
      p.drawText(QRectF(x - 4, place.bottom() + 1, side + 22, look::px(13)), Qt::AlignLeft,
                 QString(" %L1 %L2").arg(name).arg((*edge)->widthPx, 0, 'f', 1));
      x += side + 16;
    }
    number(p, QPointF(x, body.top() + look::px(26)), *f, 2);
    p.setFont(look::small());
    p.setPen(look::muted());
    p.drawText(QRectF(x, body.top() + look::px(32), body.right() - x, look::px(32)),
               Qt::AlignLeft | Qt::TextWordWrap, words("widths in px"));
  }

  void paintShadows(QPainter& p, const QRectF& body, const Finding* f) const {
    if (!f) return paintMissing(p, body);
    // Seen from above, +Y upwards: the photo's shadow dashed, the product's solid.
    const double r = body.height() / 2;
    const QPointF c = body.topLeft() + QPointF(r, r);
    p.setPen(QPen(look::line(), 1));
    p.setBrush(look::field());
    p.drawEllipse(c, r - 1, r - 1);
    const auto needle = [&](double degreesClockwise, const QColor& colour, Qt::PenStyle dash) {
      const double a = radians(degreesClockwise);
      p.setPen(QPen(colour, 2.4, dash, Qt::RoundCap));
      p.drawLine(c, c + QPointF(std::sin(a), -std::cos(a)) * (r - 5));
    };
    needle(*strip_.proofs_->shadows.productDegrees, look::ember(), Qt::SolidLine);
    needle(*strip_.proofs_->shadows.photoDegrees, look::tide(), Qt::DashLine);
    const double x = body.left() + 2 * r + 14;
    const QPointF end = number(p, QPointF(x, body.top() + look::px(22)), *f, 1);
    p.setFont(look::small());
    if (f->id != "shadow-angle")
      p.drawText(end + QPointF(6, 0), f->id == "shadow-darkness"   ? words("darker")
                                      : f->id == "shadow-softness" ? words("as wide")
                                                                   : words("tint"));
    const auto key = [&](double y, const QColor& colour, Qt::PenStyle dash, const char* name) {
      p.setPen(QPen(colour, 2, dash));
      p.drawLine(QPointF(x, y), QPointF(x + 18, y));
      p.setPen(look::muted());
      p.drawText(QPointF(x + 24, y + 4), name);
    };
    key(body.top() + look::px(40), look::ember(), Qt::SolidLine, words("product"));
    key(body.top() + look::px(56), look::tide(), Qt::DashLine, words("photo"));
  }

  ProofStrip& strip_;
  Kind kind_;
  QString caption_;
};

ProofStrip::ProofStrip(Session& session, QWidget* parent) : QWidget(parent), session_(session) {
  setObjectName("proofs");
  setAccessibleName(words("Proof strip: product beside photo"));
  setFixedHeight(look::px(118));
  auto* row = new QHBoxLayout(this);
  row->setContentsMargins(6, 4, 6, 6);
  row->setSpacing(2);
  const auto add = [&](Card::Kind kind, const char* caption, Station station, int stretch) {
    auto* card = new Card(*this, kind, caption, station);
    card->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
    row->addWidget(card, stretch);
    cards_.push_back(card);
    card->refresh();
  };
  add(Card::edges, words("Edge beside edge"), Station::blend, 5);
  add(Card::shadows, words("Shadow beside shadow"), Station::light, 4);
  add(Card::lines, words("Lines on the photo"), Station::vantage, 3);
  add(Card::contact, words("Foot on the ground"), Station::contact, 3);
  add(Card::tone, words("Ground returns"), Station::light, 3);
  add(Card::height, words("Known height"), Station::product, 3);
  add(Card::others, words("Also off"), Station::deliver, 3);
}

void ProofStrip::setProofs(const std::shared_ptr<const Proofs>& proofs) {
  proofs_ = proofs;
  // What is off and has no card of its own: the cards' own findings are those that they show.
  othersOff_.clear();
  std::set<const Finding*> shown;
  for (const Card* card : cards_) shown.insert(card->finding());
  if (proofs)
    for (const Finding& f : proofs->findings)
      if (!f.ok() && !shown.contains(&f)) othersOff_.push_back(&f);
  for (Card* card : cards_) card->refresh();
}

}  // namespace dusk
