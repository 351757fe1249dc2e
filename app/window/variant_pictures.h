#pragma once
#include <QImage>
#include <QObject>
#include <QTimer>
#include <map>

#include "app/document/session.h"
#include "core/project/blend_edit.h"

namespace dusk {

class Jobs;
class Preview;

/// Small pictures of the shot in hand in its variants, drawn one after the other beside everything else, and
/// anew where an edit changes what they show.
class VariantPictures : public QObject {
  Q_OBJECT
 public:
  VariantPictures(Session& session, Jobs& jobs, const Preview& preview, QObject* parent = nullptr);
  /// As it was drawn last; null until then.
  QImage of(const VariantChoice& choice) const;
  /// What its proofs say is off, of those that need no picture, a line each; empty until then.
  QStringList offIn(const VariantChoice& choice) const;
  /// What to show of pictures that stand beside each other, in shares of their size: the product with some of
  /// what is round it, wherever any of them has it; all, until one is drawn.
  QRectF about(const std::vector<VariantChoice>& choices) const;
  /// These are looked at by `whom`, the first soonest; none: nobody looks any more.
  void want(const QObject* whom, std::vector<VariantChoice> choices);

 signals:
  void drawn();

 private:
  struct Drawn {
    std::shared_ptr<const Project> of;  ///< what it shows, by that variant; none: not drawn
    size_t state = 0;                   ///< of the document when it was last looked at
    QImage image;
    QStringList off;
    std::optional<ProductSeen> seen;
  };
  void lookAgain();
  void drawNext();
  const Drawn* find(const VariantChoice& choice) const;
  /// A choice with an option of every axis, as a key.
  std::string keyOf(const VariantChoice& choice) const;

  Session& session_;
  Jobs& jobs_;
  const Preview& preview_;
  std::map<const QObject*, std::vector<VariantChoice>> wanted_;
  std::map<std::string, Drawn> drawn_;
  size_t state_ = 1;
  QTimer later_;
};

}  // namespace dusk
