#pragma once
#include <QMainWindow>
#include <QTimer>

#include "app/document/preferences.h"
#include "app/jobs/jobs.h"
#include "app/preview/loader.h"
#include "app/stations/surface/apply_surface.h"
#include "app/stations/surface/picture_watch.h"
#include "app/stations/workbench.h"
#include "app/views/around_view.h"
#include "app/views/panorama_view.h"
#include "app/views/picture_view.h"
#include "app/views/plan_view.h"

class QAction;
class QLabel;
class QSplitter;
class QStackedWidget;

namespace dusk {

class CastPanel;
class Drawer;
class HelpPanel;
class HorizonBar;
class LessonStrip;
class MotionDrawer;
class Notices;
class PreferencesPanel;
class ProofStrip;
class QueueDrawer;
class ShotStrip;
class StartPage;
class VariantDrawer;
class VariantPictures;

/// The window: horizon bar, cast, views, desks, notices and drawer laid out round one session. What a station
/// does is in its folder; what takes long is a job.
class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  MainWindow();
  ~MainWindow() override;

  Session& session() { return session_; }
  Jobs& jobs() { return jobs_; }
  Workbench& bench() { return bench_; }
  PictureView& picture() { return *picture_; }
  AroundView& around() { return *around_; }
  PanoramaView& panorama() { return *panorama_; }
  Preview& preview() { return preview_; }
  Notices& notices() { return *notices_; }
  ShotStrip& shots() { return *shots_; }
  HorizonBar& horizon() { return *horizon_; }
  LessonStrip& lesson() { return *lesson_; }
  QueueDrawer& queue() { return *queue_; }
  VariantDrawer& variants() { return *variants_; }
  MotionDrawer& motion() { return *motion_; }
  Drawer& drawer() { return *drawer_; }
  /// Opens a project; asks what to do where another window has it open.
  void open(const QString& file);
  enum class View { picture, plan, around, panorama, matrix };
  void showView(View view);
  View view() const;
  /// Takes files as if dropped: photos, panoramas, models, projects.
  void take(const QStringList& files);
  /// Prints the pictures among the files on what the picture shows at a place of the window, at the Surface
  /// station; whether there was anything to print and to print on.
  bool print(const QStringList& files, const QPoint& at);
  /// Begins the lesson on an empty project, with the demo's files at hand.
  void teachFirstPicture();
  /// Says that the program ended without a word last time, and offers what it left as a report.
  void tellOfCrash(const std::filesystem::path& report);
  /// Writes the files of the shot in hand into `folder`.
  void deliverInto(const QString& folder);

 signals:
  void delivered(bool whole);

 protected:
  void closeEvent(QCloseEvent*) override;
  void dragEnterEvent(QDragEnterEvent*) override;
  void dropEvent(QDropEvent*) override;

 private:
  // Laying out
  void build();
  QWidget* buildViews();
  QWidget* buildDesks();
  QWidget* buildPictureHeader();
  QAction* headerAction(QWidget* header, const QString& text, const QString& tip, const QKeySequence& keys,
                        bool checkable);
  void connectAll();
  void fitScreen();
  // Menus
  void buildMenus();
  void buildFileMenu();
  void buildViewMenu();
  void buildShotMenu();
  void buildHelpMenu();
  QAction* item(QMenu* menu, const QString& text, const QKeySequence& keys, const QString& tip,
                std::function<void()> then);
  // What the menus do
  bool mayLoseWork();
  bool mayLeave();
  bool save();
  bool saveAs();
  void gather();
  void refreshRecent();
  void remember(const QString& file);
  void keepPicture() const;
  void beginEmpty();
  void zoom(double factor);
  void showFrameState();
  void refreshTitle();
  void showStation();
  void showPreferences();
  /// Does what a preference asks for; all of them where none is named.
  void applyPreferences(const QString& key = {});
  /// Colours, contrast and size of text.
  void wearPreferences();
  void saveByItself();
  void beginAgain();
  void sayFileChanged(const AssetRef& link);
  std::optional<Vec3d> litAt(const QPoint& global, int side);
  std::optional<Vec3d> photoAt(const QPoint& global, int side) const;

  Session session_;
  Jobs jobs_{session_};
  Preview preview_;
  Loader loader_{session_, jobs_};
  Workbench bench_{session_, jobs_, preview_};
  SurfaceTrial trial_{session_};
  PictureWatch watch_{session_, jobs_};
  HorizonBar* horizon_ = nullptr;
  CastPanel* cast_ = nullptr;
  PictureView* picture_ = nullptr;
  PlanView* plan_ = nullptr;
  AroundView* around_ = nullptr;
  PanoramaView* panorama_ = nullptr;
  QStackedWidget *views_ = nullptr, *desks_ = nullptr;
  QSplitter* middle_ = nullptr;
  Notices* notices_ = nullptr;
  Drawer* drawer_ = nullptr;
  ProofStrip* proofs_ = nullptr;
  ShotStrip* shots_ = nullptr;
  QueueDrawer* queue_ = nullptr;
  VariantPictures* variantPictures_ = nullptr;
  VariantDrawer* variants_ = nullptr;
  MotionDrawer* motion_ = nullptr;
  HelpPanel* help_ = nullptr;
  LessonStrip* lesson_ = nullptr;
  StartPage* start_ = nullptr;
  PreferencesPanel* preferences_ = nullptr;
  QTimer saves_;
  const int languageAtStart_ = Preferences::own().number("language");
  QLabel* frameText_ = nullptr;
  std::vector<QAction*> viewActions_, zoomActions_, letterActions_;
  QAction *undo_ = nullptr, *redo_ = nullptr;
  QMenu* recent_ = nullptr;
  std::vector<std::string> saidNotes_;
};

}  // namespace dusk
