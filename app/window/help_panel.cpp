#include "app/window/help_panel.h"

#include <QtWidgets>

#include "app/language/language.h"
#include "app/stations/stations.h"
#include "app/widgets/clearing.h"
#include "app/widgets/words.h"
#include "core/base/installed.h"
#include "core/base/words.h"

namespace dusk {
namespace {

/// Of the language in use, where it has one.
QString guideFolder() {
  const QString folder = QString::fromStdString(sharedFolder("guide").string()),
                own = folder + "/" + languages()[size_t(spokenLanguage())].code;
  return QFile::exists(own) ? own : folder;
}

QString textOf(const QString& name) {
  QFile file(name);
  return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}

/// Pictures of the guide are as wide as the window was; here they are as wide as the panel.
class Pages : public QTextBrowser {
 protected:
  QVariant loadResource(int type, const QUrl& name) override {
    if (type != QTextDocument::ImageResource) return QTextBrowser::loadResource(type, name);
    const QImage image(QDir(guideFolder()).filePath(name.toString()));
    const int width = std::max(200, viewport()->width() - 24);
    return image.width() > width ? image.scaledToWidth(width, Qt::SmoothTransformation) : image;
  }
};

}  // namespace

HelpPanel::HelpPanel(QWidget* parent) : QDockWidget(words("Help"), parent) {
  setObjectName("help");
  setAllowedAreas(Qt::LeftDockWidgetArea | Qt::RightDockWidgetArea);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(10, 8, 10, 8);
  words_ = new QLineEdit;
  words_->setPlaceholderText(words("Search all pages"));
  words_->setAccessibleName(words("Search the help"));
  words_->setToolTip(words("Words to look for in all help pages"));
  offerClearing(*words_);
  column->addWidget(words_);
  text_ = new Pages;
  text_->setAccessibleName(words("Help text"));
  text_->setMinimumWidth(290);
  text_->setOpenLinks(false);
  column->addWidget(text_, 1);
  setWidget(inside);
  connect(words_, &QLineEdit::textChanged, this, &HelpPanel::search);
  connect(text_, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) {
    for (const StationInfo& info : stations())
      if (link.toString() == info.name) words_->clear(), showStation(info.station);
    if (link.toString() == "keys") words_->clear(), showKeys();
    if (link.toString().endsWith(".md")) words_->clear(), showGuide(QFileInfo(link.path()).fileName());
  });
}

QString HelpPanel::page(const QString& name) const {
  const QString file = QString(name).toLower().replace(' ', '-') + ".md",
                own = QString(":/help/%1/%2").arg(languages()[size_t(spokenLanguage())].code, file);
  return textOf(QFile::exists(own) ? own : ":/help/" + file);
}

void HelpPanel::showPage(const QString& title, const QString& text) {
  setWindowTitle(words("Help: ") + title);
  text_->setMarkdown(text);
}

void HelpPanel::showStation(Station station) {
  station_ = station;
  if (!words_->text().trimmed().isEmpty()) return;  // the search stays
  showPage(stationName(station), page(infoOf(station).name) + words("\n\n[The guide](README.md)\n"));
}

void HelpPanel::comeUp() {
  show();
  raise();
}

void HelpPanel::showGuide(const QString& file) {
  const QString text = textOf(guideFolder() + "/" + file);
  if (text.isEmpty()) return showPage(words("Guide"), words("The guide did not come with this program."));
  showPage(words("Guide"), text + (file == "README.md" ? "" : words("\n\n[All of the guide](README.md)\n")));
}

void HelpPanel::showKeys() { showPage(words("All keys"), page("keys")); }

void HelpPanel::showReport(const QString& file) {
  setWindowTitle(words("Help: report of a crash"));
  text_->setPlainText(
      words("This is in ") + QDir::toNativeSeparators(file) +
      words(". It names no files and no products, and goes nowhere unless you hand it on.\n\n") +
      textOf(file));
}

/// The paragraphs that hold all the words, under the page each is from.
void HelpPanel::search(const QString& typed) {
  const QStringList wanted = wordsOf(typed);
  if (wanted.isEmpty()) return showStation(station_);
  QString found;
  const auto look = [&](const QString& name, const QString& link, const QString& text) {
    QStringList hits;
    for (const QString& block : text.split("\n\n"))
      if (hasAll(block, wanted)) hits << block;
    if (!hits.isEmpty()) found += QString("# [%1](<%2>)\n\n%3\n\n").arg(name, link, hits.join("\n\n"));
  };
  for (const StationInfo& info : stations()) look(stationName(info.station), info.name, page(info.name));
  look(words("Keys"), "keys", page("keys"));
  for (const QFileInfo& file : QDir(guideFolder()).entryInfoList({"*.md"}, QDir::Files, QDir::Name)) {
    const QString text = textOf(file.filePath());
    look(text.section('\n', 0, 0).mid(2), file.fileName(), text);
  }
  showPage(words("Search"), found.isEmpty() ? words("Nothing of that on any page.") : found);
}

}  // namespace dusk
