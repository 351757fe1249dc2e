#include "app/stations/product/size_doubt.h"

#include "app/widgets/words.h"
#include "core/base/words.h"
#include "core/set/furnish.h"

namespace dusk {

std::optional<SizeDoubt> sizeDoubt(const Session& session) {
  const Product* product = session.product();
  const Placement* at = session.placement();
  const auto model = product ? session.assets()->loadedModel(*product) : nullptr;
  if (!model || !at || !product->piece.kind.empty()) return {};  // pieces are as large as they are made
  const Shot& shot = session.shot();
  // A set that comes in its product's size says nothing of it.
  const Vantage vantage = sliderOf(shot.set, "size") ? Vantage{} : shot.vantage;
  return sizeDoubt(*product, *at, *model, vantage, planeHeightM(shot, *at));
}

QString readAs(const LengthUnit& unit) { return QString(words("Read as %1")).arg(words(unit.name)); }

void readIn(const Session& session, Project& p, double metresPerUnit) {
  Product* product = session.productIn(p);
  if (!product) return;
  const SizeOf sizeOf = session.sizeOf();
  const auto was = sizeOf(*product);
  product->metresPerUnit = metresPerUnit;
  const auto size = sizeOf(*product);
  if (const Placement* at = session.placement(); at && was && size)
    arriveAgain(p, session.shotIndex(), at->id, *was, *size, sizeOf);
}

void correctUnit(Session& session, double metresPerUnit) {
  session.edit(words("correct the unit"), [&](Project& p) { readIn(session, p, metresPerUnit); });
}

}  // namespace dusk
