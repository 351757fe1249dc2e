#include "app/stations/product/piece_desk.h"

#include <QVBoxLayout>

#include "core/base/words.h"
#include "core/product/set/piece_kinds.h"

namespace dusk {
namespace {

class KindDesk : public Desk {
 public:
  KindDesk(Session& session, const PieceKind& kind) : Desk(session, {}, {}), kind_(kind) {
    beginFold(words("Measures"), true);
    for (const PieceMeasure& m : kind.measures) measure(m);
    number(
        words("Seed"), {1, 99999, 1, 0, ""}, words("Of what is a little off in it"),
        [this](const Project& p) {
          return with<double>(p, [](const Product& product) { return double(product.piece.seed); });
        },
        [this](Project& p, double v) {
          if (Product* product = session_.productIn(p)) product->piece.seed = int(v);
        });
    endFold();
  }

 private:
  template <typename T, typename Read>
  std::optional<T> with(const Project& p, const Read& read) const {
    const Product* now = session_.product();
    const Product* product = now ? byId(p.products, now->id) : nullptr;
    if (!product || product->piece.kind != kind_.name) return {};
    return read(*product);
  }
  void measure(const PieceMeasure& m) {
    const std::string name = m.name, unit = m.unit;
    // Those of a set that was made larger or smaller have grown with it.
    const auto grown = [isLength = unit == "m"](const Product& p) { return isLength ? p.metresPerUnit : 1; };
    const auto get = [this, name, grown, usual = m.usual](const Project& p) {
      return with<double>(p, [&](const Product& product) {
        const auto at = product.piece.measures.find(name);
        return (at == product.piece.measures.end() ? usual : at->second) * grown(product);
      });
    };
    const auto set = [this, name, grown, low = m.low, high = m.high](Project& p, double v) {
      if (Product* product = session_.productIn(p))
        product->piece.measures[name] = std::clamp(v / grown(*product), low, high);
    };
    const QString tip = unit == "m" ? QString(words("From %1 to %2 mm")).arg(m.low * 1000).arg(m.high * 1000)
                                    : QString(words("From %1 to %2")).arg(m.low).arg(m.high);
    if (unit == "m") {
      length(words(m.title), tip, get, set);
    } else {
      const bool isCount = m.low == std::floor(m.low) && m.usual == std::floor(m.usual) && m.high > 1;
      number(words(m.title), {m.low, m.high, isCount ? 1 : 0.05, isCount ? 0 : 2, m.unit}, tip, get, set);
    }
  }
  const PieceKind& kind_;
};

}  // namespace

PieceDesk::PieceDesk(Session& session) : session_(session), column_(new QVBoxLayout(this)) {
  column_->setContentsMargins(0, 0, 0, 0);
  connect(&session_, &Session::changed, this, &PieceDesk::refresh);
  connect(&session_, &Session::selectionChanged, this, &PieceDesk::refresh);
  refresh();
}

void PieceDesk::refresh() {
  const Product* product = session_.product();
  const PieceKind* kind = product ? pieceKindNamed(product->piece.kind) : nullptr;
  for (const auto& [name, desk] : desks_) desk->setVisible(kind && name == kind->name);
  setVisible(kind && parentWidget());
  if (!kind || desks_.count(kind->name)) return;
  auto* desk = new KindDesk(session_, *kind);
  desks_[kind->name] = desk;
  column_->addWidget(desk);
  desk->refreshAll();
}

}  // namespace dusk
