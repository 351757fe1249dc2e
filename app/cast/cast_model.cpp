#include "app/cast/cast_model.h"

#include <QtWidgets>

#include "app/widgets/colours.h"
#include "app/widgets/look.h"
#include "app/widgets/picture_icon.h"
#include "core/base/words.h"

namespace dusk {

CastModel::CastModel(Session& session, QObject* parent) : QAbstractItemModel(parent), session_(session) {
  connect(&session_, &Session::changed, this, [this] {
    // Products and lamps that come, go or change their names make the tree anew; anything else repaints it.
    if (isBehind()) rebuild();
  });
  connect(&session_, &Session::assetsChanged, this, [this] {
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

void CastModel::setFilter(const QString& wanted) {
  if (wanted.simplified() == filter_) return;
  filter_ = wanted.simplified();
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

void CastModel::addProduct(const Product& product, const QStringList& wanted) {
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
  if (!wanted.isEmpty() && texts.empty())
    for (const Part& part : model->parts)
      texts.push_back(QString::fromStdString(part.path + " " + shownName(part)).toLower());
  nodes_.reserve(nodes_.size() + model->groups.size() + model->parts.size());
  for (size_t i = 0; i < model->parts.size(); ++i) {
    const Part& part = model->parts[i];
    if (!std::all_of(wanted.begin(), wanted.end(), [&](const QString& w) { return texts[i].contains(w); }))
      continue;
    const std::string& shown = shownName(part);
    ++matches_;
    const FileMaterial& material = model->materialOf(part);
    const auto grouped = product.groupOfPart.find(part.path);
    const int under = grouped != product.groupOfPart.end() ? namedNode(grouped->second)
                      : product.grouping == Grouping::node ? groupNode(part.parent)
                      : product.grouping == Grouping::material
                          ? namedNode(material.name.empty() ? words("no material") : material.name)
                          : top;
    Node n = node(shown, part.path);
    n.part = true, n.fileColour = shownColour(toDouble(material.colour));
    add(std::move(n), under);
  }
}

QModelIndex CastModel::indexOf(Role role, const std::string& id) const {
  for (size_t i = 0; i < nodes_.size(); ++i)
    if ((role == lampRole ? nodes_[i].lamp : nodes_[i].standIn) == id)
      return createIndex(nodes_[i].row, 0, quintptr(i));
  return {};
}

void CastModel::rebuild() {
  beginResetModel();
  nodes_.clear();
  matches_ = 0;
  Outline now = outline();
  if (now.products != outline_.products) texts_.clear();
  outline_ = std::move(now);
  const QStringList wanted = filter_.toLower().split(' ', Qt::SkipEmptyParts);
  add({}, -1);
  for (const Product& product : session_.project().products) addProduct(product, wanted);
  if (wanted.isEmpty())
    for (const Lamp& lamp : session_.shot().lamps) {
      Node node;
      node.name = QString::fromStdString(lamp.name), node.lamp = lamp.id;
      add(std::move(node), 0);
    }
  if (wanted.isEmpty())
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
  p.setPen(QPen(look::line(), 1));
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
      if (const Product* of = node.part ? byId(session_.project().products, node.product) : nullptr;
          of && roleOf(*of, node.path).catcher)
        return QString(words("%1 (only catches)")).arg(node.name);
      if (node.part || node.children.empty()) return node.name;
      return QString("%1  (%2)").arg(node.name).arg(node.children.size());
    }
    case Qt::DecorationRole:
      return node.part ? QVariant(pictureIcon(dot(swatch(node)))) : QVariant();
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
      return node.part ? words("Click to select (Ctrl: several), tick to show, F2 to rename, Ctrl+G to group")
             : node.parent == 0
                 ? node.name + words(": F2 renames, Delete takes it away, right click for more")
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
    if (name.empty() || name == node.name.toStdString()) return false;
    session_.edit(words("rename ") + node.name, [&](Project& p) {
      Shot& shot = session_.shotIn(p);
      if (Lamp* lamp = byId(shot.lamps, node.lamp)) lamp->name = name;
      if (StandIn* standIn = byId(shot.standIns, node.standIn)) standIn->name = name;
      if (Product* product = byId(p.products, node.product))
        (node.part ? product->names[node.path] : product->name) = name;
    });
    return true;
  }
  if (role != Qt::CheckStateRole) return false;
  const bool on = value.toInt() == Qt::Checked;
  if (!node.lamp.empty()) {
    session_.editShot(on ? words("switch a lamp on") : words("switch a lamp off"), [&](Shot& shot) {
      if (Lamp* lamp = byId(shot.lamps, node.lamp)) lamp->on = on;
    });
    return true;
  }
  if (!node.standIn.empty()) {
    session_.editShot(on ? words("use a stand-in") : words("put a stand-in aside"), [&](Shot& shot) {
      if (StandIn* s = byId(shot.standIns, node.standIn)) s->on = on;
    });
    return true;
  }
  session_.edit(on ? words("show ") + node.name : words("hide ") + node.name, [&](Project& p) {
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
  if (node.part || node.parent == 0) f |= Qt::ItemIsEditable;
  return f;
}

QModelIndex CastModel::indexOfPart(const std::string& path, const std::string& product) const {
  for (size_t i = 0; i < nodes_.size(); ++i)
    if (nodes_[i].part && nodes_[i].path == path && (product.empty() || nodes_[i].product == product))
      return createIndex(nodes_[i].row, 0, quintptr(i));
  return {};
}

}  // namespace dusk
