#pragma once
#include <QDialog>

#include "app/document/session.h"
#include "core/product/revise.h"

namespace dusk {

/// Shows what becomes of each part when a product's file is replaced by a newer one, before it is applied.
/// Stays beside the work; applying is one undoable step.
class RevisePanel : public QDialog {
  Q_OBJECT
 public:
  RevisePanel(Session& session, std::string productId, AssetRef model, std::vector<PartFate> fates,
              QWidget* parent);

 private:
  void apply();

  Session& session_;
  std::string productId_;
  AssetRef model_;
  std::vector<PartFate> fates_;
};

}  // namespace dusk
