#pragma once
#include <QAbstractItemModel>
#include <QPixmap>

#include "app/document/session.h"

namespace dusk {

/// The tree of products, their groups and parts, lamps and stand-ins: a thin model over the project and the
/// loaded models.
class CastModel : public QAbstractItemModel {
  Q_OBJECT
 public:
  explicit CastModel(Session& session, QObject* parent = nullptr);
  /// pathRole: of a part; branchRole: of a part or a group.
  enum Role { pathRole = Qt::UserRole + 1, productRole, lampRole, branchRole, standInRole };

  QModelIndex index(int row, int column, const QModelIndex& parent) const override;
  QModelIndex parent(const QModelIndex& child) const override;
  int rowCount(const QModelIndex& parent) const override;
  int columnCount(const QModelIndex&) const override { return 1; }
  QVariant data(const QModelIndex& index, int role) const override;
  bool setData(const QModelIndex& index, const QVariant& value, int role) override;
  Qt::ItemFlags flags(const QModelIndex& index) const override;
  /// A part of a product; of the first that has it when no product is said.
  QModelIndex indexOfPart(const std::string& path, const std::string& product = {}) const;

  /// The row of a lamp or stand-in.
  QModelIndex indexOf(Role role, const std::string& id) const;

  /// Shows only parts whose path holds all words, in any case.
  void setFilter(const QString& words);
  const QString& filter() const { return filter_; }
  /// Parts shown.
  int matches() const { return matches_; }
  /// Makes the tree anew from the project and the models loaded so far.
  void rebuild();
  /// Whether a model has been loaded that the tree does not show yet.
  bool isBehind() const;

 private:
  struct Node {
    QString name;
    std::string path, product, lamp, standIn;
    int parent = -1, row = 0;
    std::vector<int> children;
    bool part = false;
    QColor fileColour;
  };
  int add(Node node, int parent);
  void addProduct(const Product& product, const QStringList& wanted);
  QColor swatch(const Node& node) const;
  QPixmap dot(const QColor& colour) const;

  /// What the tree's shape depends on.
  struct Outline {
    struct OfProduct {
      std::string id, name;
      AssetRef model;
      std::shared_ptr<const Model> loaded;
      std::map<std::string, std::string> names, groupOfPart;
      Grouping grouping;
      bool operator==(const OfProduct&) const = default;
    };
    QString filter;
    std::vector<OfProduct> products;
    std::vector<std::pair<std::string, std::string>> lamps, standIns;
    bool operator==(const Outline&) const = default;
  };
  Outline outline() const;

  Session& session_;
  std::vector<Node> nodes_;  // [0] is the invisible root
  int matches_ = 0;
  QString filter_;
  Outline outline_;
  mutable QHash<QRgb, QPixmap> dots_;                  // swatches drawn so far
  std::map<std::string, std::vector<QString>> texts_;  // by product: what each part is found by
};

}  // namespace dusk
