#include "app/stations/surface/value_rows.h"

#include <QtWidgets>

#include "app/jobs/aside.h"
#include "app/stations/surface/feed_editor.h"
#include "app/stations/surface/strips.h"
#include "app/widgets/look.h"
#include "core/base/words.h"

namespace dusk {
namespace {
constexpr int stripWidth = 64, stripHeight = 12;
}

ValueRows::ValueRows(Workbench& bench)
    : Desk(bench.session, {}, {}), bench_(bench), editor_(new FeedEditor(bench)) {
  editor_->setParent(this);
  editor_->hide();
  chooseLayer();
  coatButtons();
  feedsOnly(SurfaceValue::baseColour, true, words("Where it lies"),
            words("What says where this coat is; without feeds it is everywhere"));
  colourRow(SurfaceValue::baseColour, words("Base colour"),
            words("Diffuse colour, or the metal's reflection"), &Surface::baseColour);
  shareRow(SurfaceValue::metalness, words("Metalness"), words("0 = paint, stone, plastic; 1 = metal"),
           &Surface::metalness);
  shareRow(SurfaceValue::roughness, words("Roughness"), words("0 = mirror-like, 1 = matte"),
           &Surface::roughness);
  shareRow(SurfaceValue::clearcoat, words("Clearcoat"), words("A lacquer over everything"),
           &Surface::clearcoat);
  shareRow(SurfaceValue::clearcoatRoughness, words("Coat roughness"), words("Roughness of the lacquer"),
           &Surface::clearcoatRoughness);
  shareRow(SurfaceValue::transmission, words("Transmission"),
           words("Share of light that goes into the body, as in glass"), &Surface::transmission);
  feedsOnly(SurfaceValue::bump, false, words("Bump"),
            words("Height of the surface in millimetres: what its feeds add up to"));
  glowRow();
  rareRows();
  onRefresh([this] { showRows(); });
  connect(&bench.preview, &Preview::frameReady, this, [this](const std::shared_ptr<const Frame>& frame) {
    if (frame->shotId != session_.shot().id || !frame->isWhole()) return;
    scene_ = frame->scene;
    askForStrips();
  });
}

void ValueRows::rareRows() {
  beginFold(words("More values"), false);
  feedsOnly(SurfaceValue::normal, false, words("Normal map"),
            words("Pictures of a surface's lean (tangent space)"));
  feedsOnly(SurfaceValue::coatNormal, false, words("Coat normals"),
            words("The same, of the clearcoat alone"));
  shareRow(SurfaceValue::opacity, words("Opacity"), words("Share of it that is there at all: 0 is a hole"),
           &Surface::opacity);
  shareRow(SurfaceValue::subsurface, words("Subsurface"),
           words("Share of the diffuse light that wanders below: wax, soap, milk, marble"),
           &Surface::subsurface);
  shareRow(SurfaceValue::specular, words("Specular"),
           words("How much what is not metal mirrors; 1 = as its IOR says"), &Surface::specular);
  shareRow(SurfaceValue::anisotropy, words("Brushing"), words("0 even, 1 as long-brushed metal"),
           &Surface::anisotropy);
  shareRow(SurfaceValue::sheen, words("Sheen"), words("The bright rim of cloth"), &Surface::sheen);
  colourRow(SurfaceValue::sheenColour, words("Sheen colour"), words("Colour of that rim"),
            &Surface::sheenColour);
  shareRow(SurfaceValue::sheenRoughness, words("Sheen roughness"), words("0 a narrow rim, 1 a wide one"),
           &Surface::sheenRoughness);
  shareRow(SurfaceValue::film, words("Film"),
           words("A film as thin as light's waves: oil, tempering colours, pearl. 0: none"), &Surface::filmNm,
           {0, 2000, 10, 0, "nm"});
  endFold();
}

Surface* ValueRows::layer(Project& p) const {
  Surface* s = session_.surfaceInHand(p);
  return s ? layerAt(*s, coatIndex()) : nullptr;
}
const Surface* ValueRows::layer(const Project& p) const {
  const Surface* s = session_.surfaceInHand(p);
  return s ? layerAt(*s, coatIndex()) : nullptr;
}
const Coat* ValueRows::coat(const Project& p) const {
  const Surface* s = session_.surfaceInHand(p);
  return s && coatIndex() >= 0 && size_t(coatIndex()) < s->coats.size() ? &s->coats[size_t(coatIndex())]
                                                                        : nullptr;
}
Coat* ValueRows::coat(Project& p) const { return const_cast<Coat*>(coat(std::as_const(p))); }

/// The surface itself or what lies on it: all rows below are that one's.
void ValueRows::chooseLayer() {
  auto* box = new QComboBox;
  box->setToolTip(words("What the rows below belong to: the surface itself, or a coat on it"));
  QWidget* holder = labelled(words("Layer"), box);
  add(holder);
  connect(box, &QComboBox::activated, this, [this, box](int i) {
    const Surface* s = session_.surfaceInHand(session_.project());
    const int coats = s ? int(s->coats.size()) : 0;
    session_.takeFeed({i == coats ? -1 : i, false, session_.feedInHand().value, -1});
  });
  onRefresh([this, box, holder] {
    const QSignalBlocker quiet(box);
    const Surface* s = session_.surfaceInHand(session_.project());
    holder->setVisible(s != nullptr);
    box->clear();
    if (!s) return;
    for (const Coat& coat : s->coats)
      box->addItem(QString::fromStdString(coat.name) + (coat.on ? "" : words(" (off)")));
    box->addItem(words("The surface itself"));
    if (coatIndex() >= int(s->coats.size())) session_.takeFeed({-1, false, session_.feedInHand().value, -1});
    box->setCurrentIndex(coatIndex() < 0 ? box->count() - 1 : coatIndex());
  });
}

void ValueRows::coatButtons() {
  QWidget* row = beginRow();
  button(words("Coat over it"),
         words("Another surface over this one: paint, dust, water. Say where it lies by its mask"), [this] {
           session_.edit(words("lay a coat over it"), [&](Project& p) {
             if (Surface* s = session_.surfaceInHand(p)) {
               Coat fresh;
               fresh.name = words("Coat ") + std::to_string(s->coats.size() + 1), fresh.surface = *s;
               fresh.surface.id.clear(), fresh.surface.coats.clear(), fresh.surface.feeds.clear();
               s->coats.insert(s->coats.begin(), fresh);
             }
           });
           session_.takeFeed({0, true, SurfaceValue::baseColour, -1});
         });
  auto* away = button(words("Take off"), words("Takes the coat away"), [this] {
    session_.edit(words("take a coat off"), [&](Project& p) {
      if (coat(p))
        session_.surfaceInHand(p)->coats.erase(session_.surfaceInHand(p)->coats.begin() + coatIndex());
    });
    session_.takeFeed({-1, false, SurfaceValue::baseColour, -1});
  });
  auto* up = button(words("Up"), words("Lays the coat over the one above it"), [this] {
    session_.edit(words("lay a coat higher"), [&](Project& p) {
      if (coat(p) && coatIndex() > 0) {
        auto& coats = session_.surfaceInHand(p)->coats;
        std::swap(coats[size_t(coatIndex())], coats[size_t(coatIndex()) - 1]);
      }
    });
    session_.takeFeed({std::max(0, coatIndex() - 1), false, SurfaceValue::baseColour, -1});
  });
  endRow();
  onRefresh([=, this] {
    row->setVisible(session_.surfaceInHand(session_.project()));
    away->setVisible(coatIndex() >= 0), up->setVisible(coatIndex() > 0);
  });
  number(
      words("Coat's strength"), {0, 1, 0.05, 2, "", true, 1},
      words("How much of the coat there is, where it lies"),
      [this](const Project& p) {
        const Coat* c = coat(p);
        return c ? std::optional(c->strength) : std::nullopt;
      },
      [this](Project& p, double v) {
        if (Coat* c = coat(p)) c->strength = v;
      });
}

void ValueRows::colourRow(SurfaceValue value, const QString& label, const QString& tip,
                          Vec3d Surface::*member) {
  auto* swatch = colour(
      label, tip,
      [=, this](const Project& p) {
        const Surface* s = layer(p);
        return s ? std::optional(s->*member) : std::nullopt;
      },
      [=, this](Project& p, const Vec3d& c) {
        if (Surface* s = layer(p)) s->*member = c;
      });
  swatch->setFixedWidth(look::px(82));
  addRow(value, false, label, swatch->parentWidget());
}

void ValueRows::shareRow(SurfaceValue value, const QString& label, const QString& tip,
                         double Surface::*member, const Range& range) {
  auto* field = number(
      label, range, tip,
      [=, this](const Project& p) {
        const Surface* s = layer(p);
        return s ? std::optional(s->*member) : std::nullopt;
      },
      [=, this](Project& p, double v) {
        if (Surface* s = layer(p)) s->*member = v;
      });
  field->setFixedWidth(look::px(82));
  addRow(value, false, label, field->parentWidget());
}

void ValueRows::glowRow() {
  auto* field = number(
      words("Emission"), {0, 1000, 0.1, 2, "×"}, words("Light the surface gives off; 1 = photo white"),
      [this](const Project& p) {
        const Surface* s = layer(p);
        return s ? std::optional(std::max({s->emission.x, s->emission.y, s->emission.z})) : std::nullopt;
      },
      [this](Project& p, double v) {
        Surface* s = layer(p);
        if (!s) return;
        const double most = std::max({s->emission.x, s->emission.y, s->emission.z});
        s->emission = most > 0 ? s->emission * (v / most) : Vec3d(v, v, v);
      });
  field->setFixedWidth(look::px(82));
  addRow(SurfaceValue::emission, false, words("Emission"), field->parentWidget());
}

void ValueRows::feedsOnly(SurfaceValue value, bool ofMask, const QString& label, const QString& tip) {
  auto* holder = new QWidget;
  auto* row = new QHBoxLayout(holder);
  row->setContentsMargins(0, 0, 0, 0);
  row->setSpacing(8);
  auto* text = new QLabel(label);
  text->setMinimumWidth(look::px(94));
  text->setToolTip(tip);
  row->addWidget(text);
  row->addStretch(1);
  add(holder);
  addRow(value, ofMask, label, holder);
}

void ValueRows::addRow(SurfaceValue value, bool ofMask, const QString& label, QWidget* holder) {
  auto* layout = static_cast<QHBoxLayout*>(holder->layout());
  Row row{value, ofMask, new QToolButton, new QLabel, new FeedList(session_, {-1, ofMask, value, -1})};
  row.opener->setArrowType(Qt::RightArrow);
  row.opener->setAutoRaise(true);
  look::setRole(*row.opener, "opener");
  row.opener->setToolTip(words("Opens what feeds it: pictures, patterns, what the shape knows"));
  row.opener->setAccessibleName(label + words(", its feeds"));
  row.strip->setFixedSize(stripWidth, stripHeight + 2);
  row.strip->setToolTip(words("What it comes to across the part"));
  row.strip->setAccessibleName(label + words(" across the part"));
  layout->insertWidget(0, row.opener);
  layout->itemAt(1)->widget()->setMinimumWidth(look::px(80));
  // Strips stand below each other, before the fields.
  const bool hasField = layout->count() > 2 && layout->itemAt(layout->count() - 1)->widget();
  layout->insertStretch(hasField ? layout->count() - 1 : layout->count(), 1);
  layout->insertWidget(hasField ? layout->count() - 1 : layout->count(), row.strip);
  if (!hasField) layout->addSpacing(look::px(82) + 4);
  layout->setSpacing(4);
  add(row.feeds);
  rows_.push_back(row);
  const size_t index = rows_.size() - 1;
  connect(row.opener, &QToolButton::clicked, this, [this, index] { open(rows_[index]); });
}

void ValueRows::open(const Row& row) {
  const FeedPlace now = session_.feedInHand();
  const bool same = now.value == row.value && now.ofMask == row.ofMask;
  closed_ = same && !closed_;
  session_.takeFeed({now.coat, row.ofMask, row.value, -1});
  showRows();
}

void ValueRows::showRows() {
  const FeedPlace& now = session_.feedInHand();
  if (now.row >= 0) closed_ = false;
  const Surface* s = session_.surfaceInHand(session_.project());
  const bool hasLayer = s && layerAt(*s, now.coat);
  editor_->hide();
  for (const Row& row : rows_) {
    const bool there = hasLayer && (!row.ofMask || now.coat >= 0);
    row.opener->parentWidget()->setVisible(there);
    const bool open = there && !closed_ && now.value == row.value && now.ofMask == row.ofMask;
    row.opener->setArrowType(open ? Qt::DownArrow : Qt::RightArrow);
    row.feeds->setVisible(open);
    row.feeds->setCoat(now.coat);
    const auto* feeds = there ? feedsAt(*s, {now.coat, row.ofMask, row.value, -1}) : nullptr;
    row.opener->setText(feeds && !feeds->empty() ? QString::number(feeds->size()) : QString());
    row.opener->setToolButtonStyle(feeds && !feeds->empty() ? Qt::ToolButtonTextBesideIcon
                                                            : Qt::ToolButtonIconOnly);
    if (!open) continue;
    row.feeds->refresh();
    if (feedAt(*s, now)) row.feeds->host(editor_);
  }
  if (editor_->isVisible()) editor_->refreshAll();
  askForStrips();
}

/// Beside everything else; the newest scene's, when the last are done.
void ValueRows::askForStrips() {
  if (stripping_ || !isVisible() || !scene_ ||
      (stripsOf_ == scene_ && stripsPart_ == session_.selectedPart()))
    return;
  stripping_ = true;
  stripsOf_ = scene_, stripsPart_ = session_.selectedPart();
  const Placement* placement = session_.placement();
  auto* watcher = new QFutureWatcher<std::map<SurfaceValue, QImage>>(this);
  connect(watcher, &QFutureWatcherBase::finished, this, [this, watcher] {
    const auto strips = watcher->result();
    for (const Row& row : rows_) {
      const auto found = strips.find(row.value);
      if (row.ofMask || found == strips.end())
        row.strip->clear();
      else
        row.strip->setPixmap(QPixmap::fromImage(found->second));
    }
    watcher->deleteLater();
    stripping_ = false;
    askForStrips();
  });
  watcher->setFuture(
      runAside([scene = scene_, part = stripsPart_, at = placement ? placement->id : std::string()] {
        return stripsOf(*scene, at, part, stripWidth, stripHeight);
      }));
}

}  // namespace dusk
