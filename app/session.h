#pragma once
#include <QObject>
#include <QString>
#include <QTimer>
#include <filesystem>
#include <functional>
#include <memory>

#include "core/project/changes.h"
#include "core/project/history.h"
#include "core/trace/asset_store.h"
#include "core/trace/geometry.h"
#include "core/vantage/solve.h"

#include "app/vantage_work.h"

namespace dusk {

enum class Station { plate, vantage, product, surface, light, contact, render, blend, deliver };
inline constexpr int stationCount = 9;
const char* stationName(Station station);

/// What is open: the document's history, its assets, what is selected. Every edit of the window goes through
/// `edit`.
class Session : public QObject {
  Q_OBJECT
 public:
  explicit Session(QObject* parent = nullptr);
  ~Session() override;

  const Project& project() const { return history_.now(); }
  const Shot& shot() const { return project().shots.front(); }
  static constexpr size_t shotIndex = 0;

  /// Applies `change` to a copy and makes that the present, as one undoable step named `what`. Steps that
  /// share a non-zero gesture join.
  void edit(const QString& what, const std::function<void(Project&)>& change, int gesture = 0);
  void editShot(const QString& what, const std::function<void(Shot&)>& change, int gesture = 0);
  /// A shot edit that also solves the vantage anew from the changed evidence, unless it is locked.
  void editEvidence(const QString& what, const std::function<void(Evidence&)>& change, int gesture = 0);
  /// An edit of what lies behind the products; the camera is then set by hand where that is not a photo.
  void editBackdrop(const QString& what, const std::function<void(Backdrop&)>& change, int gesture = 0);
  /// Gives the shot the camera its backdrop says, in place of a solved one.
  void setCameraByHand(Shot& shot);
  /// Solves the vantage of a shot under edit from its evidence; an impossible one keeps a solved camera.
  void solveAgain(Shot& shot);
  static int newGesture();

  const History& history() const { return history_; }
  void undo();
  void redo();

  // Files
  void startEmpty();
  bool open(const std::filesystem::path& file);
  bool save(const std::filesystem::path& file);
  const std::filesystem::path& file() const { return file_; }
  bool isSaved() const { return history_.isSaved(); }
  /// Takes the journal away: the person chose to let unsaved work go, or everything is saved.
  void dropJournal();

  std::shared_ptr<AssetStore> assets() const { return assets_; }
  std::shared_ptr<GeometryCache> geometry() const { return geometry_; }

  // What the person looks at
  Station station() const { return station_; }
  void setStation(Station station);
  const std::string& selectedPart() const { return part_; }
  /// Takes a part in hand, and with it the product it belongs to: of `placement`, else of the one in hand
  /// where that has such a part, else of the first that has.
  void selectPart(const std::string& path, const std::string& placement = {});
  /// Takes a placed product in hand, and none of its parts.
  void selectPlacement(const std::string& id);
  /// The placed product in hand: the selected one, else the first; nullptr when nothing is placed.
  const Placement* placement() const;
  /// Its product; the first product where nothing is placed.
  const Product* product() const;
  /// The same in a shot or project under edit.
  Placement* placementIn(Shot& shot) const;
  Product* productIn(Project& project) const;

  /// What the next drag or click in the picture is for, besides the station's own.
  enum class NextDrag {
    own,
    heightReference,
    region,
    focus,
    standIn,      ///< draws the foot of a new stand-in
    highlight,    ///< brings the lamp's reflection here
    shadowTip,    ///< brings the lamp's shadow of the product's top here
    lampColour,   ///< gives the lamp the colour of the photo there
    photoPatch,   ///< the patch to balance against
    productPatch  ///< the patch to be balanced
  };
  NextDrag nextDrag() const { return nextDrag_; }
  void setNextDrag(NextDrag drag);

  /// The unit lengths are shown and typed in; kept between sessions.
  struct ShownUnit {
    const char* name;
    double perMetre;
    int decimals;
    double step;
  };
  static const std::vector<ShownUnit>& shownUnits();
  const ShownUnit& shownUnit() const { return shownUnits()[size_t(shownUnit_)]; }
  void setShownUnit(int index);
  const std::string& selectedStroke() const { return stroke_; }
  void selectStroke(const std::string& id);
  const std::string& selectedLamp() const { return lamp_; }
  void selectLamp(const std::string& id);
  const std::string& selectedStandIn() const { return standIn_; }
  void selectStandIn(const std::string& id);
  /// The last solve's residuals and advice.
  const VantageAnswer& answer() const { return answer_; }
  VantageWork& vantageWork() { return *vantageWork_; }

  // Adding things; loading happens elsewhere, these only link.
  void setPlate(const AssetRef& ref, const Photo& photo);
  void addProduct(const AssetRef& ref, const Model& model, const std::string& name);
  /// A second one of the product in hand, beside it; and the one in hand taken away, with its product when it
  /// was the last.
  void copyPlacement();
  void removePlacement();
  void setPanorama(const AssetRef& ref);

  void say(const QString& text, bool trouble = false) { emit said(text, trouble); }

 signals:
  void changed(const Changes& what);
  void stationChanged();
  void selectionChanged();
  void said(const QString& text, bool trouble);

 private:
  void moved(const Project& before);
  void writeJournal();
  std::filesystem::path journalPath() const;

  History history_;
  std::filesystem::path file_;
  std::shared_ptr<AssetStore> assets_ = std::make_shared<AssetStore>();
  std::shared_ptr<GeometryCache> geometry_ = std::make_shared<GeometryCache>();
  Station station_ = Station::plate;
  std::string part_, placement_, stroke_, lamp_, standIn_;
  int shownUnit_ = 0;
  NextDrag nextDrag_ = NextDrag::own;
  VantageAnswer answer_;
  Evidence answered_;  ///< what `answer_` was computed from
  QTimer journalTimer_;
  std::unique_ptr<VantageWork> vantageWork_;
};

}  // namespace dusk
