#include "app/stations/blend/view_desk.h"

#include <QtWidgets>

#include "app/jobs/aside.h"
#include "app/jobs/linked.h"
#include "app/widgets/file_choice.h"
#include "core/base/words.h"
#include "core/project/blend_edit.h"

namespace dusk {
namespace {

QStringList namesOf(const std::vector<std::string>& all, const QStringList& before = {}) {
  QStringList names = before;
  for (const std::string& name : all) names << QString::fromStdString(name);
  return names;
}

/// Its place among `all`, after `before` others; -1 where it is none of them.
int placeOf(const std::vector<std::string>& all, const std::string& name, int before = 0) {
  const auto found = std::find(all.begin(), all.end(), name);
  return found == all.end() ? -1 : int(found - all.begin()) + before;
}

/// How a photo fares by a view.
QString tripText(const RoundTrip& trip) {
  if (!trip.undone)
    return words(
        "This view cannot be gone back: the photo enters by the sRGB curve, and comes out as this view "
        "shows "
        "it.");
  if (trip.share == 0) return words("The photo comes out as it went in.");
  return QString(words("Of all colours, %1 % come out of this view as others than they went in, by up to %2 "
                       "codes of "
                       "255: "
                       "colours that it does not show."))
      .arg(100 * trip.share, 0, 'f', trip.share < 0.1 ? 1 : 0)
      .arg(trip.worstCodes, 0, 'f', 1);
}

}  // namespace

ViewDesk::ViewDesk(Workbench& bench) : Desk(bench.session, {}, {}), bench_(bench) {
  setAccessibleName(words("View in hand"));
  const ViewConfig& config = session_.shot().blend.config;
  if (config.file.empty())
    ours();
  else if (const auto loaded = session_.assets()->loadedConfig(config.file))
    fields(loaded);
  else
    read();
  trip_ = note();
  onRefresh([this] { tellTrip(); });
  beginRow();
  button(
      words("Colour configuration…"),
      words(
          "An OpenColorIO configuration (.ocio) of your own: its displays, views and looks in place of ours"),
      [this] { takeConfig(); });
  if (!config.file.empty())
    button(words("Our views again"),
           words("Lets go of the configuration: the picture is shown in plain sRGB"), [this] {
             session_.editShot(words("show in our own view"), [](Shot& shot) {
               shot.blend.config = {}, shot.blend.view = BlendSettings{}.view;
             });
           });
  endRow();
}

void ViewDesk::ours() {
  choice(
      words("View"), namesOf(ColourView::names()), words("How scene light becomes the picture's code values"),
      [this](const Project& p) { return placeOf(ColourView::names(), blend(p).view); },
      [this](Project& p, int i) { blend(p).view = ColourView::names()[size_t(i)]; });
}

void ViewDesk::read() {
  QLabel* told = note(words("Reading the configuration…"));
  runAside([assets = session_.assets(), ref = session_.shot().blend.config.file] {
    return assets->config(ref);
  }).then(this, [this, told](const Result<std::shared_ptr<const ColourConfig>>& read) {
    if (!read) return told->setText(QString::fromStdString(read.error().message));
    emit configRead();
  });
}

void ViewDesk::fields(const std::shared_ptr<const ColourConfig>& config) {
  const ViewConfig& now = session_.shot().blend.config;
  auto* name = note(
      QString("<b>%1</b>").arg(QFileInfo(QString::fromStdString(now.file.path)).fileName().toHtmlEscaped()));
  name->setToolTip(QString::fromStdString(session_.assets()->pathOf(now.file).string()));
  std::vector<std::string> displays;
  for (const auto& d : config->displays()) displays.push_back(d.name);
  const auto displayOf = [this, config](const Project& p) -> const ColourConfig::Display& {
    for (const auto& d : config->displays())
      if (d.name == blend(p).config.display) return d;
    return config->displays().front();
  };
  choice(
      words("Display"), namesOf(displays), words("The kind of screen the picture is made for"),
      [=](const Project& p) { return placeOf(displays, displayOf(p).name); },
      [=, this](Project& p, int i) {
        const auto& views = config->displays()[size_t(i)].views;
        blend(p).config.display = displays[size_t(i)];
        // What has the same name there goes on being shown.
        if (placeOf(views, blend(p).view) < 0) blend(p).view = views.front();
      });
  const std::vector<std::string> views = displayOf(session_.project()).views;
  choice(
      words("View"), namesOf(views), words("How scene light becomes the picture's code values"),
      [=, this](const Project& p) { return blend(p).view.empty() ? 0 : placeOf(views, blend(p).view); },
      [=, this](Project& p, int i) { blend(p).view = views[size_t(i)]; });
  if (const auto looks = config->looks(); !looks.empty())
    choice(
        words("Look"), namesOf(looks, {words("As the view has it")}),
        words("A grade that the configuration brings"),
        [=, this](const Project& p) {
          return blend(p).config.look.empty() ? 0 : placeOf(looks, blend(p).config.look, 1);
        },
        [=, this](Project& p, int i) {
          blend(p).config.look = i > 0 ? looks[size_t(i - 1)] : std::string();
        });
  const auto spaces = config->spaces();
  choice(
      words("Our light is"),
      namesOf(spaces, {config->linear().empty() ? words("Joined by the configuration")
                                                : QString::fromStdString(config->linear())}),
      words("The space of the configuration that is scene-linear Rec.709, in which we trace"),
      [=, this](const Project& p) {
        return blend(p).config.linear.empty() ? 0 : placeOf(spaces, blend(p).config.linear, 1);
      },
      [=, this](Project& p, int i) {
        blend(p).config.linear = i > 0 ? spaces[size_t(i - 1)] : std::string();
      });
  if (!config->isLinearKnown() && now.linear.empty())
    note(words(
        "The configuration does not say which of its spaces is linear Rec.709: its scene-linear one is taken "
        "for it. Choose another if colours are off."));
  if (!config->missing().empty())
    note(QString(words("It reads %1, which is not there: views that need it cannot be shown."))
             .arg(QString::fromStdString(config->missing().front()).toHtmlEscaped()));
  narrowChoices();
}

void ViewDesk::tellTrip() {
  const BlendSettings now = viewOnly(session_.shot().blend);
  if (told_ == now && !trip_->text().isEmpty()) return;
  told_ = now;
  runAside([assets = session_.assets(), now]() -> QString {
    const auto view = assets->view(now);
    if (!view) return QString::fromStdString(view.error().message);
    const QString files = (*view)->isSrgb() ? "" : words(" Files of this display carry no colour profile.");
    return tripText((*view)->roundTrip()) + files;
  }).then(this, [this, now](const QString& text) {
    if (told_ == now) trip_->setText(text);
  });
}

void ViewDesk::takeConfig() {
  const QString file = chooseFile(this, words("Choose a colour configuration"), FileKind::config);
  if (file.isEmpty()) return;
  bench_.jobs.run<Linked<ColourConfig>>(
      {words("Reading ") + QFileInfo(file).fileName(), "config"},
      [assets = session_.assets(), path = pathOf(file)](Progress&) {
        return linked<ColourConfig>(*assets, path, [&](const AssetRef& ref) { return assets->config(ref); });
      },
      [this](Linked<ColourConfig>& read) {
        session_.editShot(words("choose a colour configuration"), [&](Shot& shot) {
          const auto& shown = read.asset->displays().front();
          shot.blend.config = {read.ref, shown.name, {}, {}};
          shot.blend.view = shown.views.front();
        });
      });
}

}  // namespace dusk
