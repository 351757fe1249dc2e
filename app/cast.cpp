#include "app/cast.h"

#include <QtWidgets>

#include "app/look.h"

namespace dusk {

QColor shownColour(const Vec3d& linear) {
  const auto code = [](double v) {
    v = std::clamp(v, 0.0, 1.0);
    return v <= 0.0031308 ? v * 12.92 : 1.055 * std::pow(v, 1 / 2.4) - 0.055;
  };
  return QColor::fromRgbF(float(code(linear.x)), float(code(linear.y)), float(code(linear.z)));
}

Vec3d linearColour(const QColor& colour) {
  const auto light = [](double v) { return v <= 0.04045 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
  return {light(colour.redF()), light(colour.greenF()), light(colour.blueF())};
}

CastModel::CastModel(Session& session, QObject* parent) : QAbstractItemModel(parent), session_(session) {
  connect(&session_, &Session::changed, this, [this] {
    // Products and lamps that come, go or change their names make the tree anew; anything else repaints it.
    if (isBehind()) rebuild();
  });
  rebuild();
}

CastModel::Outline CastModel::outline() const {
  Outline all{filter_, {}, {}, {}};
  for (const Product& p : session_.project().products)
    all.products.push_back(
        {p.id, p.name, p.model, session_.assets()->loadedModel(p), p.names, p.groupOfPart, p.grouping});
  for (const Lamp& l : session_.shot().lamps) all.lamps.emplace_back(l.id, l.name);
  for (const StandIn& s : session_.shot().standIns) all.standIns.emplace_back(s.id, s.name);
  return all;
}

void CastModel::setFilter(const QString& words) {
  if (words.simplified() == filter_) return;
  filter_ = words.simplified();
  rebuild();
}

int CastModel::add(Node node, int parent) {
  const int self = int(nodes_.size());
  node.parent = parent;
  if (parent >= 0) {
    node.row = int(nodes_[size_t(parent)].children.size());
    nodes_[size_t(parent)].children.push_back(self);
  }
  nodes_.push_back(std::move(node));
  return self;
}

void CastModel::addProduct(const Product& product, const QStringList& words) {
  const auto node = [&](const std::string& name, const std::string& path) {
    Node n;
    n.name = QString::fromStdString(name), n.path = path, n.product = product.id;
    return n;
  };
  const int top = add(node(product.name, ""), 0);
  const auto model = session_.assets()->loadedModel(product);
  if (!model) return;
  // Groups appear with the first of their parts that is shown.
  std::vector<int> groups(model->groups.size(), -1);
  const std::function<int(int)> groupNode = [&](int index) -> int {
    if (index < 0) return top;
    int& at = groups[size_t(index)];
    if (at >= 0) return at;
    const Group& g = model->groups[size_t(index)];
    // The assembly's own root says what the product already says.
    if (g.parent < 0 && model->groups.size() > 1) return at = top;
    const int above = groupNode(g.parent);
    return groups[size_t(index)] = add(node(g.name, g.path), above);
  };
  std::map<std::string, int> named;
  const auto namedNode = [&](const std::string& name) {
    const auto [at, fresh] = named.emplace(name, -1);
    if (fresh) at->second = add(node(name, ""), top);
    return at->second;
  };
  const auto shownName = [&](const Part& part) -> const std::string& {
    const auto own = product.names.find(part.path);
    return own == product.names.end() ? part.name : own->second;
  };
  std::vector<QString>& texts = texts_[product.id];
  if (!words.isEmpty() && texts.empty())
    for (const Part& part : model->parts)
      texts.push_back(QString::fromStdString(part.path + " " + shownName(part)).toLower());
  nodes_.reserve(nodes_.size() + model->groups.size() + model->parts.size());
  for (size_t i = 0; i < model->parts.size(); ++i) {
    const Part& part = model->parts[i];
    if (!std::all_of(words.begin(), words.end(), [&](const QString& w) { return texts[i].contains(w); }))
      continue;
    const std::string& shown = shownName(part);
    ++matches_;
    const FileMaterial& material = model->materialOf(part);
    const auto grouped = product.groupOfPart.find(part.path);
    const int under = grouped != product.groupOfPart.end() ? namedNode(grouped->second)
                      : product.grouping == Grouping::node ? groupNode(part.parent)
                      : product.grouping == Grouping::material
                          ? namedNode(material.name.empty() ? "no material" : material.name)
                          : top;
    Node n = node(shown, part.path);
    n.part = true, n.fileColour = shownColour(toDouble(material.colour));
    add(std::move(n), under);
  }
}

void CastModel::rebuild() {
  beginResetModel();
  nodes_.clear();
  matches_ = 0;
  Outline now = outline();
  if (now.products != outline_.products) texts_.clear();
  outline_ = std::move(now);
  const QStringList words = filter_.toLower().split(' ', Qt::SkipEmptyParts);
  add({}, -1);
  for (const Product& product : session_.project().products) addProduct(product, words);
  if (words.isEmpty())
    for (const Lamp& lamp : session_.shot().lamps) {
      Node node;
      node.name = QString::fromStdString(lamp.name), node.lamp = lamp.id;
      add(std::move(node), 0);
    }
  if (words.isEmpty())
    for (const StandIn& s : session_.shot().standIns) {
      Node node;
      node.name = QString::fromStdString(s.name), node.standIn = s.id;
      add(std::move(node), 0);
    }
  endResetModel();
}

bool CastModel::isBehind() const { return !(outline() == outline_); }

QModelIndex CastModel::index(int row, int column, const QModelIndex& parent) const {
  const Node& above = nodes_[parent.isValid() ? parent.internalId() : 0];
  if (column != 0 || row < 0 || row >= int(above.children.size())) return {};
  return createIndex(row, 0, quintptr(above.children[size_t(row)]));
}

QModelIndex CastModel::parent(const QModelIndex& child) const {
  if (!child.isValid()) return {};
  const int parent = nodes_[child.internalId()].parent;
  return parent <= 0 ? QModelIndex() : createIndex(nodes_[size_t(parent)].row, 0, quintptr(parent));
}

int CastModel::rowCount(const QModelIndex& parent) const {
  return int(nodes_[parent.isValid() ? parent.internalId() : 0].children.size());
}

QColor CastModel::swatch(const Node& node) const {
  const Product* product = byId(session_.project().products, node.product);
  if (!product) return {};
  const auto given = product->surfaceOfPart.find(node.path);
  if (given != product->surfaceOfPart.end())
    if (const Surface* s = byId(session_.project().surfaces, given->second))
      return shownColour(s->baseColour);
  return node.fileColour;
}

QPixmap CastModel::dot(const QColor& colour) const {
  QPixmap& dot = dots_[colour.rgba()];
  if (!dot.isNull()) return dot;
  dot = QPixmap(14, 14);
  dot.fill(Qt::transparent);
  QPainter p(&dot);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(look::line, 1));
  p.setBrush(colour);
  p.drawRoundedRect(QRectF(1.5, 1.5, 11, 11), 3, 3);
  return dot;
}

QVariant CastModel::data(const QModelIndex& index, int role) const {
  if (!index.isValid()) return {};
  const Node& node = nodes_[index.internalId()];
  switch (role) {
    case Qt::EditRole:
      return node.name;
    case Qt::DisplayRole: {
      if (node.part || node.children.empty()) return node.name;
      return QString("%1  (%2)").arg(node.name).arg(node.children.size());
    }
    case Qt::DecorationRole:
      return node.part ? QVariant(dot(swatch(node))) : QVariant();
    case Qt::CheckStateRole:
      if (node.part)
        if (const Product* product = byId(session_.project().products, node.product))
          return product->hiddenParts.contains(node.path) ? Qt::Unchecked : Qt::Checked;
      if (!node.lamp.empty())
        if (const Lamp* lamp = byId(session_.shot().lamps, node.lamp))
          return lamp->on ? Qt::Checked : Qt::Unchecked;
      if (!node.standIn.empty())
        if (const StandIn* s = byId(session_.shot().standIns, node.standIn))
          return s->on ? Qt::Checked : Qt::Unchecked;
      return {};
    case Qt::FontRole:
      return node.parent == 0 ? look::heading() : QVariant();
    case Qt::ToolTipRole:
      return node.part ? "Click to select (Ctrl: several), tick to show, F2 to rename, Ctrl+G to group"
                       : node.name;
    case pathRole:
      return node.part ? QString::fromStdString(node.path) : QString();
    case branchRole:
      return QString::fromStdString(node.path);
    case productRole:
      return QString::fromStdString(node.product);
    case lampRole:
      return QString::fromStdString(node.lamp);
    case standInRole:
      return QString::fromStdString(node.standIn);
    default:
      return {};
  }
}

bool CastModel::setData(const QModelIndex& index, const QVariant& value, int role) {
  if (!index.isValid()) return false;
  const Node node = nodes_[index.internalId()];
  if (role == Qt::EditRole) {
    const std::string name = value.toString().trimmed().toStdString();
    if (name.empty() || name == node.name.toStdString() || !node.part) return false;
    session_.edit("rename " + node.name, [&](Project& p) {
      if (Product* product = byId(p.products, node.product)) product->names[node.path] = name;
    });
    return true;
  }
  if (role != Qt::CheckStateRole) return false;
  const bool on = value.toInt() == Qt::Checked;
  if (!node.lamp.empty()) {
    session_.editShot(on ? "switch a lamp on" : "switch a lamp off", [&](Shot& shot) {
      if (Lamp* lamp = byId(shot.lamps, node.lamp)) lamp->on = on;
    });
    return true;
  }
  if (!node.standIn.empty()) {
    session_.editShot(on ? "use a stand-in" : "put a stand-in aside", [&](Shot& shot) {
      if (StandIn* s = byId(shot.standIns, node.standIn)) s->on = on;
    });
    return true;
  }
  session_.edit(on ? "show " + node.name : "hide " + node.name, [&](Project& p) {
    if (Product* product = byId(p.products, node.product)) {
      if (on)
        product->hiddenParts.erase(node.path);
      else
        product->hiddenParts.insert(node.path);
    }
  });
  return true;
}

Qt::ItemFlags CastModel::flags(const QModelIndex& index) const {
  if (!index.isValid()) return Qt::NoItemFlags;
  const Node& node = nodes_[index.internalId()];
  Qt::ItemFlags f = Qt::ItemIsEnabled | Qt::ItemIsSelectable;
  if (node.part || !node.lamp.empty() || !node.standIn.empty()) f |= Qt::ItemIsUserCheckable;
  if (node.part) f |= Qt::ItemIsEditable;
  return f;
}

QModelIndex CastModel::indexOfPart(const std::string& path, const std::string& product) const {
  for (size_t i = 0; i < nodes_.size(); ++i)
    if (nodes_[i].part && nodes_[i].path == path && (product.empty() || nodes_[i].product == product))
      return createIndex(nodes_[i].row, 0, quintptr(i));
  return {};
}

Cast::Cast(Session& session, QWidget* parent)
    : QTreeView(parent), session_(session), model_(new CastModel(session, this)) {
  setObjectName("cast");
  setAccessibleName("Cast: products, parts, lamps and stand-ins");
  setModel(model_);
  setHeaderHidden(true);
  setUniformRowHeights(true);
  setIndentation(14);
  setEditTriggers(EditKeyPressed);
  setSelectionMode(ExtendedSelection);
  setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  setTextElideMode(Qt::ElideRight);
  expandToDepth(0);
  connect(model_, &QAbstractItemModel::modelReset, this, [this] {
    // What was looked for is shown with its branches open.
    if (model_->filter().isEmpty())
      expandToDepth(0);
    else
      expandAll();
    followSelection();
  });
  setContextMenuPolicy(Qt::CustomContextMenu);
  connect(this, &QWidget::customContextMenuRequested, this, [this](const QPoint& at) {
    if (!selectionModel()->isSelected(indexAt(at))) setCurrentIndex(indexAt(at));
    QMenu menu(this);
    menu.addAction("Only this (I)", this, [this] { isolate(); });
    menu.addAction("Show all (A)", this, [this] { showAll(); });
    menu.addAction("Hide or show (H)", this, [this] { toggleShown(); });
    menu.addAction("Rename (F2)", this, [this] { edit(currentIndex()); });
    menu.addAction("Group (Ctrl+G)", this, [this] { group(freshGroupName()); });
    menu.addAction("Out of its group (Ctrl+Shift+G)", this, [this] { group({}); });
    menu.exec(viewport()->mapToGlobal(at));
  });
  connect(selectionModel(), &QItemSelectionModel::currentChanged, this, [this](const QModelIndex& now) {
    if (following_ || !now.isValid()) return;
    const QString path = now.data(CastModel::pathRole).toString(),
                  lamp = now.data(CastModel::lampRole).toString(),
                  standIn = now.data(CastModel::standInRole).toString();
    const std::string product = now.data(CastModel::productRole).toString().toStdString();
    // A product in the tree stands for the placed one in hand, or its first.
    std::string placement;
    for (const Placement& p : session_.shot().placements)
      if (p.productId == product && (placement.empty() || &p == session_.placement())) placement = p.id;
    // The tree's own selection is under way: it is not to be set from outside in the middle of it.
    const QScopedValueRollback guard(following_, true);
    if (!path.isEmpty())
      session_.selectPart(path.toStdString(), placement);
    else if (!placement.empty())
      session_.selectPlacement(placement);
    if (!lamp.isEmpty()) {
      session_.selectLamp(lamp.toStdString());
      session_.setStation(Station::light);
    }
    if (!standIn.isEmpty()) {
      session_.selectStandIn(standIn.toStdString());
      session_.setStation(Station::contact);
    }
  });
  connect(&session_, &Session::selectionChanged, this, &Cast::followSelection);
  // Ticks and swatches: what is seen is asked for anew.
  connect(&session_, &Session::changed, viewport(), qOverload<>(&QWidget::update));
}

void Cast::followSelection() {
  if (following_) return;  // it was chosen here
  following_ = true;
  const Product* product = session_.product();
  const QModelIndex index =
      model_->indexOfPart(session_.selectedPart(), product ? product->id : std::string());
  if (index.isValid()) {
    // Several that hold it stay selected together.
    if (!selectionModel()->isSelected(index))
      setCurrentIndex(index);
    else
      selectionModel()->setCurrentIndex(index, QItemSelectionModel::NoUpdate);
    scrollTo(index);
  } else if (!currentIndex().data(CastModel::pathRole).toString().isEmpty()) {
    selectionModel()->clear();
  }
  following_ = false;
}

std::vector<std::string> Cast::partsInHand(const std::string& path) const {
  const Product* product = session_.product();
  std::vector<std::string> parts{path};
  const QModelIndex index = model_->indexOfPart(path, product ? product->id : std::string());
  if (!index.isValid() || !selectionModel()->isSelected(index)) return parts;
  for (const QModelIndex& other : selectionModel()->selectedIndexes()) {
    const std::string also = other.data(CastModel::pathRole).toString().toStdString();
    if (!also.empty() && also != path &&
        other.data(CastModel::productRole) == index.data(CastModel::productRole))
      parts.push_back(also);
  }
  return parts;
}

QString Cast::freshGroupName() const {
  const Product* product = session_.product();
  for (int n = 1;; ++n) {
    const QString name = QString("Group %1").arg(n);
    if (!product || std::none_of(product->groupOfPart.begin(), product->groupOfPart.end(),
                                 [&](const auto& g) { return g.second == name.toStdString(); }))
      return name;
  }
}

void Cast::group(const QString& name) {
  if (session_.selectedPart().empty()) return session_.say("Choose the parts to be grouped first.");
  const auto parts = partsInHand(session_.selectedPart());
  session_.edit(name.isEmpty() ? "take parts out of their group" : "group parts", [&](Project& p) {
    if (Product* product = session_.productIn(p))
      for (const std::string& part : parts) {
        product->groupOfPart.erase(part);
        if (!name.isEmpty()) product->groupOfPart[part] = name.toStdString();
      }
  });
}

void Cast::toggleShown() {
  const QModelIndex now = currentIndex();
  const Product* product = session_.product();
  if (!now.data(CastModel::lampRole).toString().isEmpty() ||
      !now.data(CastModel::standInRole).toString().isEmpty()) {
    const bool on = now.data(Qt::CheckStateRole).toInt() == Qt::Checked;
    model_->setData(now, on ? Qt::Unchecked : Qt::Checked, Qt::CheckStateRole);
    return;
  }
  const std::set<std::string> parts = partsUnderSelection();
  if (!product || parts.empty()) return;
  const bool hide = !product->hiddenParts.contains(*parts.begin());
  session_.edit(hide ? "hide parts" : "show parts", [&](Project& p) {
    if (Product* changed = session_.productIn(p))
      for (const std::string& part : parts) {
        changed->hiddenParts.erase(part);
        if (hide) changed->hiddenParts.insert(part);
      }
  });
}

/// Part paths of the selected rows of the product in hand, and of all below selected groups.
std::set<std::string> Cast::partsUnderSelection() const {
  std::set<std::string> parts;
  const Product* product = session_.product();
  if (!product) return parts;
  const QString id = QString::fromStdString(product->id);
  const std::function<void(const QModelIndex&)> take = [&](const QModelIndex& index) {
    if (index.data(CastModel::productRole).toString() != id) return;
    const std::string path = index.data(CastModel::pathRole).toString().toStdString();
    if (!path.empty()) parts.insert(path);
    for (int i = 0; i < model_->rowCount(index); ++i) take(model_->index(i, 0, index));
  };
  for (const QModelIndex& index : selectionModel()->selectedIndexes()) take(index);
  return parts;
}

void Cast::isolate() {
  const Product* product = session_.product();
  const auto model = product ? session_.assets()->loadedModel(*product) : nullptr;
  const std::set<std::string> shown = partsUnderSelection();
  if (!model || shown.empty()) return;
  std::set<std::string> hidden;
  for (const Part& part : model->parts)
    if (!shown.contains(part.path)) hidden.insert(part.path);
  if (hidden == product->hiddenParts) return showAll();
  session_.edit("show only " + currentIndex().data(Qt::DisplayRole).toString(), [&](Project& p) {
    if (Product* changed = session_.productIn(p)) changed->hiddenParts = hidden;
  });
}

void Cast::showAll() {
  session_.edit("show all parts", [](Project& p) {
    for (Product& product : p.products) product.hiddenParts.clear();
  });
}

void Cast::keyPressEvent(QKeyEvent* e) {
  if (e->key() == Qt::Key_G && e->modifiers() & Qt::ControlModifier)
    return group(e->modifiers() & Qt::ShiftModifier ? QString() : freshGroupName());
  if (e->modifiers() == Qt::NoModifier) switch (e->key()) {
      case Qt::Key_H:
        return toggleShown();
      case Qt::Key_I:
        return isolate();
      case Qt::Key_A:
        return showAll();
      default:
        break;
    }
  QTreeView::keyPressEvent(e);
}

CastPanel::CastPanel(Session& session) : cast_(new Cast(session)) {
  auto* column = new QVBoxLayout(this);
  column->setContentsMargins(8, 8, 2, 6);
  auto* title = new QLabel("Cast");
  title->setStyleSheet("font-weight: 600; color: #b1a9bf; padding-left: 6px;");
  column->addWidget(title);
  auto* search = new QLineEdit;
  search->setPlaceholderText("Find parts");
  search->setToolTip(
      "Words of a part's name or of what it is in (Ctrl+F); Enter goes to the first, Esc clears");
  search->setAccessibleName("Find parts");
  search->setClearButtonEnabled(true);
  column->addWidget(search);
  auto* count = new QLabel;
  count->setStyleSheet("color: #b1a9bf; font-size: 11px; padding-left: 6px;");
  count->hide();
  column->addWidget(count);
  column->addWidget(cast_, 1);
  connect(search, &QLineEdit::textChanged, this, [=, this](const QString& words) {
    cast_->model().setFilter(words);
    const int n = cast_->model().matches();
    count->setText(n == 1 ? "1 part" : QString("%1 parts").arg(n));
    count->setVisible(!words.trimmed().isEmpty());
  });
  connect(search, &QLineEdit::returnPressed, this, [this] { cast_->goToFirst(); });
  auto* find = new QShortcut(QKeySequence::Find, this);
  connect(find, &QShortcut::activated, search, [search] { search->setFocus(), search->selectAll(); });
  search->installEventFilter(this);
}

bool CastPanel::eventFilter(QObject* on, QEvent* e) {
  if (e->type() == QEvent::KeyPress && static_cast<QKeyEvent*>(e)->key() == Qt::Key_Escape) {
    static_cast<QLineEdit*>(on)->clear();
    return true;
  }
  return QWidget::eventFilter(on, e);
}

void Cast::goToFirst() {
  QModelIndex at = model_->index(0, 0, {});
  while (at.isValid() && at.data(CastModel::pathRole).toString().isEmpty()) at = indexBelow(at);
  if (!at.isValid()) return;
  setCurrentIndex(at);
  setFocus();
}

}  // namespace dusk
