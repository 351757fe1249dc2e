#pragma once
#include <QMainWindow>
#include <QTimer>

#include "app/around_view.h"
#include "app/desks/desks.h"
#include "app/horizon_bar.h"
#include "app/panorama_view.h"
#include "app/picture_view.h"
#include "app/plan_view.h"
#include "app/preview.h"
#include "app/proof_strip.h"
#include "app/session.h"

class QScrollArea;
class QStackedWidget;
class QToolButton;

class QLabel;
class QPushButton;

namespace dusk {

class Cast;

/// The window: horizon bar, cast, picture, desk, proof strip, and the errands between them.
class MainWindow : public QMainWindow {
  Q_OBJECT
 public:
  MainWindow();
  ~MainWindow() override;

  Session& session() { return session_; }
  PictureView& picture() { return *picture_; }
  Preview& preview() { return preview_; }
  void open(const QString& file);
  enum class View { picture, plan, around, panorama };
  void showView(View view);
  AroundView& around() { return *around_; }
  /// Starts a delivery into `folder`; `delivered` tells when it ended.
  void deliverInto(const QString& folder);
  bool isDelivering() const { return delivery_ != nullptr; }
  /// The vantage's camera to and from a glTF or JSON file.
  void saveCamera(const QString& file);
  void loadCamera(const QString& file);
  /// Takes files as if dropped: photos, panoramas, models, projects.
  void take(const QStringList& files);

 signals:
  void delivered(bool whole);

 protected:
  void closeEvent(QCloseEvent*) override;

 private:
  void build();
  void buildMenus();
  QWidget* buildPictureHeader();
  void say(const QString& text, bool trouble);
  void refreshTitle();
  void showStation();
  bool mayLoseWork();
  bool save();
  bool saveAs();
  void refreshRecent();
  void remember(const QString& file);

  // Loading, off the interface's thread.
  void takePlate(const QString& file);
  void takePanorama(const QString& file);
  void takeBrackets(const QStringList& files);
  void takeBalls(const QStringList& files);
  void takeFisheyes(const QStringList& files);
  /// Makes a panorama on a worker, writes it beside the first file and lights with it.
  void makePanorama(const QStringList& files, const char* ending, const QString& saying,
                    std::function<Result<Picture>(Progress&)> make);
  void takeLampPicture(const QString& lampId, const QString& file);
  void takeModel(const QString& file);
  void takeRevision(const QString& file);
  void refineModels();
  void takePicture(const QString& file);

  Session session_;
  Preview preview_;
  Errands errands_;
  HorizonBar* horizon_ = nullptr;
  Cast* cast_ = nullptr;
  PictureView* picture_ = nullptr;
  PlanView* plan_ = nullptr;
  AroundView* around_ = nullptr;
  PanoramaView* panorama_ = nullptr;
  ProofStrip* proofs_ = nullptr;
  QStackedWidget *views_ = nullptr, *desks_ = nullptr;
  DeliverDesk* deliverDesk_ = nullptr;
  QWidget *castPanel_ = nullptr, *message_ = nullptr;
  QLabel *messageText_ = nullptr, *frameText_ = nullptr;
  QPushButton* messageCancel_ = nullptr;
  QTimer messageTimer_, importTimer_, deliveryTimer_, refineTimer_;
  QString saying_;
  std::set<std::pair<std::string, double>> notFiner_;  // model hash and chord that could not be had
  QAction *undo_ = nullptr, *redo_ = nullptr, *planAction_ = nullptr, *pictureAction_ = nullptr,
          *aroundAction_ = nullptr, *panoramaAction_ = nullptr;
  QMenu* recent_ = nullptr;
  std::shared_ptr<Progress> delivery_, import_;
  QString folder_;
  std::vector<std::string> saidNotes_;
};

}  // namespace dusk
