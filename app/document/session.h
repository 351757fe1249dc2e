#pragma once
#include <QObject>
#include <QString>
#include <QTimer>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>

#include "app/document/selection.h"
#include "app/document/units.h"
#include "core/assets/asset_store.h"
#include "core/project/changes.h"
#include "core/project/history.h"
#include "core/project/journal.h"
#include "core/set/arrival.h"
#include "core/trace/geometry.h"
#include "core/vantage/solve.h"

class QLockFile;

namespace dusk {

/// What is open: the document's history, its assets, its file and journal, and what is in hand. Every edit of
/// the window goes through `edit`; everything lives on the interface's thread.
class Session : public QObject {
  Q_OBJECT
 public:
  explicit Session(QObject* parent = nullptr);
  ~Session() override;

  // ---- the document
  /// As the options show it that the shot in hand has chosen: what is seen is what is worked on.
  const Project& project() const { return shown_ ? *shown_ : history_.now(); }
  /// As it is kept, before any option.
  const Project& base() const { return history_.now(); }
  /// The shot in hand, now or in another state of the document.
  const Shot& shot() const { return shotIn(project()); }
  const Shot& shotIn(const Project& project) const { return project.shots[shotIndexIn(project)]; }
  Shot& shotIn(Project& project) const { return project.shots[shotIndexIn(project)]; }
  size_t shotIndex() const { return shotIndexIn(project()); }
  void selectShot(const std::string& id);
  /// Grows with every document that is opened or begun: what was started for another one tells by it.
  unsigned documentNumber() const { return documentNumber_; }

  /// Applies `change` to a copy and makes that the present, as one undoable step named `what`. Steps that
  /// share a non-zero gesture join.
  void edit(const QString& what, const std::function<void(Project&)>& change, int gesture = 0);
  void editShot(const QString& what, const std::function<void(Shot&)>& change, int gesture = 0);
  /// The same of a shot by its id; nothing where that is gone.
  void editShotOf(const std::string& id, const QString& what, const std::function<void(Shot&)>& change,
                  int gesture = 0);
  /// A shot edit that also solves the vantage anew from the changed evidence, unless it is locked.
  void editEvidence(const QString& what, const std::function<void(Evidence&)>& change, int gesture = 0);
  /// An edit of what lies behind the products; the camera is then set by hand where that is not a photo.
  void editBackdrop(const QString& what, const std::function<void(Backdrop&)>& change, int gesture = 0);
  /// Solves the vantage of a shot under edit from its evidence; an impossible one keeps a solved camera.
  /// Where another size or frame is found than before the edit, what stands in the shot keeps its spot in the
  /// photo.
  void solveAgain(Shot& shot);
  /// The last solve's residuals and advice.
  const VantageAnswer& answer() const { return answer_; }

  /// The option that edits go into while it is chosen, beside what it changes already; empty: the document.
  const std::string& recordedOption() const { return recorded_; }
  void recordInto(const std::string& option);

  /// The moment of what moves that is shown and worked on, seconds from the film's beginning.
  double moment() const { return moment_; }
  void setMoment(double seconds);
  /// While it is on, what is edited begins to move; what moves already gets a key either way.
  bool recordsKeys() const { return recordsKeys_; }
  void recordKeys(bool on);
  /// Whether the picture shows what moves as a film's open shutter sees it.
  bool opensShutter() const { return opensShutter_; }
  void openShutter(bool on);

  const History& history() const { return history_; }
  void undo();
  void redo();

  // ---- gestures: from press to release, one undo step
  static int newGesture();
  /// A drag begins: until it ends nothing else changes station, shot or history.
  int beginGesture();
  void endGesture() { gesture_ = 0; }
  /// The document as it was when the gesture began, as if that had not been.
  void revertGesture() { revert(gesture_); }
  /// The same of any gesture, where its step is the newest; else nothing.
  void revert(int gesture);
  bool inGesture() const { return gesture_ != 0; }

  // ---- files
  void startEmpty();
  /// How a project that another window holds may be opened.
  enum class OpenAs { own, copy, look };
  bool open(const std::filesystem::path& file, OpenAs as = OpenAs::own);
  /// Who has the project open elsewhere, as a sentence; nothing when nobody has.
  std::optional<QString> heldElsewhere(const std::filesystem::path& file) const;
  bool save(const std::filesystem::path& file);
  const std::filesystem::path& file() const { return file_; }
  /// Whether saving must ask for another place: the project is somebody else's, or has no file yet.
  bool needsPlace() const { return file_.empty() || looking_; }
  bool isSaved() const { return history_.isSaved(); }
  /// Takes the journal away: the person chose to let unsaved work go, or everything is saved.
  void dropJournal();
  /// Brings back untitled work of a session that ended without a word, if there is any.
  bool bringBackUntitled();
  /// Waits until journal and files are written.
  void finishWriting() { journal_.finish(); }

  std::shared_ptr<AssetStore> assets() const { return assets_; }
  std::shared_ptr<GeometryCache> geometry() const { return geometry_; }
  /// Something the document links to has been loaded or made finer.
  void announceAssets() { emit assetsChanged(); }

  // ---- what is in hand
  Station station() const { return hand_.station; }
  void setStation(Station station);
  const std::string& selectedPart() const { return hand_.part; }
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
  using NextDrag = dusk::NextDrag;
  NextDrag nextDrag() const { return hand_.nextDrag; }
  void setNextDrag(NextDrag drag);
  const ShownUnit& shownUnit() const { return shownUnits()[size_t(unit_)]; }
  void setShownUnit(int index);
  const std::string& selectedStroke() const { return hand_.stroke; }
  void selectStroke(const std::string& id) { select(&Selection::stroke, id); }
  const std::string& selectedLamp() const { return hand_.lamp; }
  void selectLamp(const std::string& id) { select(&Selection::lamp, id); }
  const std::string& selectedStandIn() const { return hand_.standIn; }
  void selectStandIn(const std::string& id) { select(&Selection::standIn, id); }

  const std::string& selectedDecal() const { return hand_.decal; }
  void selectDecal(const std::string& id) { select(&Selection::decal, id); }
  /// The feed in hand, and what of a surface is looked at: of the surface of the part in hand.
  const FeedPlace& feedInHand() const { return hand_.feed; }
  void takeFeed(const FeedPlace& place);
  const BlendPlace& blendInHand() const { return hand_.blend; }
  void takeBlend(const BlendPlace& place);
  const std::string& selectedCutOut() const { return hand_.cutOut; }
  void selectCutOut(const std::string& id) { select(&Selection::cutOut, id); }
  const std::string& selectedCleanUp() const { return hand_.cleanUp; }
  void selectCleanUp(const std::string& id) { select(&Selection::cleanUp, id); }
  const std::string& selectedFrame() const { return hand_.frame; }
  void selectFrame(const std::string& id) { select(&Selection::frame, id); }
  /// The deliverable in hand, by its place in the shot's list.
  int selectedFile() const { return hand_.file; }
  void selectFile(int index);
  /// The surface that the part in hand is given, in any state of the document; nullptr where it has none.
  const Surface* surfaceInHand(const Project& project) const;
  Surface* surfaceInHand(Project& project) const;
  const Decal* decalInHand(const Project& project) const;
  Decal* decalInHand(Project& project) const;

  /// Parts that are selected together: what is done to one of them is done to all.
  void setPartsTogether(std::vector<std::string> parts) { hand_.together = std::move(parts); }
  const std::vector<std::string>& partsTogether() const { return hand_.together; }
  /// The same, for all who show what is in hand to follow.
  void takePartsTogether(std::vector<std::string> parts) {
    setPartsTogether(std::move(parts));
    emit selectionChanged();
  }
  /// The parts selected together with `path`; at least that one.
  std::vector<std::string> partsInHand(const std::string& path) const;

  // ---- adding things; loading happens elsewhere, these only link
  /// `config`: the colour configuration that a first photo is shown by; empty: ours.
  void setPlate(const AssetRef& ref, const Photo& photo, const AssetRef& config = {});
  void addProduct(const AssetRef& ref, const Model& model, const std::string& name);
  /// The true sizes of products whose models are at hand.
  SizeOf sizeOf() const;
  /// A second one of the product in hand, beside it; and the one in hand taken away, with its product when it
  /// was the last.
  void copyPlacement();
  void removePlacement();

  void say(const QString& text, bool trouble = false) { emit said(text, trouble); }
  /// Why what was asked for just now cannot be: of no more use once it is read.
  void refuse(const QString& text) { emit refused(text); }

 signals:
  void changed(const Changes& what);
  void stationChanged();
  void selectionChanged();
  /// Another moment is shown; `changed` with what differs comes right after.
  void momentChanged();
  void shutterChanged();
  /// Another shot is in hand; `changed` with everything comes right after.
  void shotChanged();
  /// Another document is open.
  void documentChanged();
  void assetsChanged();
  void said(const QString& text, bool trouble);
  void refused(const QString& text);

 private:
  size_t shotIndexIn(const Project& project) const;
  void select(std::string Selection::*member, const std::string& id);
  void moved(const Project& before);
  void showVariant();
  void showFirstShot();
  void answerAnew();
  void begin(Project project, const std::filesystem::path& file, std::shared_ptr<AssetStore> assets);
  void bringBackUnsaved(const std::string& text);
  void writeJournal();
  bool hold(const std::filesystem::path& file);
  std::filesystem::path journalPath() const;

  History history_;
  std::shared_ptr<const Project> shown_;                       ///< none: as it is kept
  std::array<std::shared_ptr<const Project>, 8> shownBefore_;  ///< kept for who still reads them
  size_t nextBefore_ = 0;
  std::string recorded_;
  double moment_ = 0;
  bool recordsKeys_ = false, opensShutter_ = false;
  std::string shotId_;
  unsigned documentNumber_ = 0;
  int gesture_ = 0;
  std::filesystem::path file_, untitledJournal_;
  std::string savedHash_;  ///< of the file's text, as opened or saved
  bool looking_ = false;
  std::unique_ptr<QLockFile> lock_, untitledLock_;
  std::shared_ptr<AssetStore> assets_ = std::make_shared<AssetStore>();
  std::shared_ptr<GeometryCache> geometry_ = std::make_shared<GeometryCache>();
  Selection hand_;
  int unit_ = 0;
  VantageAnswer answer_;
  Evidence answered_;  ///< what `answer_` was computed from
  QTimer journalTimer_;
  Journal journal_;
};

}  // namespace dusk
