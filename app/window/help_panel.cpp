#include "app/window/help_panel.h"

#include <QtWidgets>

#include "app/stations/stations.h"

namespace dusk {

HelpPanel::HelpPanel(QWidget* parent) : QDockWidget("Help", parent) {
  setObjectName("help");
  setAllowedAreas(Qt::LeftDockWidgetArea | Qt::RightDockWidgetArea);
  auto* inside = new QWidget;
  auto* column = new QVBoxLayout(inside);
  column->setContentsMargins(10, 8, 10, 8);
  words_ = new QLineEdit;
  words_->setPlaceholderText("Search all pages");
  words_->setAccessibleName("Search the help");
  words_->setToolTip("Words to look for in all help pages");
  words_->setClearButtonEnabled(true);
  column->addWidget(words_);
  text_ = new QTextBrowser;
  text_->setAccessibleName("Help text");
  text_->setMinimumWidth(290);
  text_->setOpenLinks(false);
  column->addWidget(text_, 1);
  setWidget(inside);
  connect(words_, &QLineEdit::textChanged, this, &HelpPanel::search);
  connect(text_, &QTextBrowser::anchorClicked, this, [this](const QUrl& link) {
    for (const StationInfo& info : stations())
      if (link.toString() == info.name) words_->clear(), showStation(info.station);
    if (link.toString() == "keys") words_->clear(), showKeys();
  });
}

QString HelpPanel::page(const QString& name) const {
  QFile file(":/help/" + QString(name).toLower().replace(' ', '-') + ".md");
  return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}

void HelpPanel::showPage(const QString& title, const QString& text) {
  setWindowTitle("Help: " + title);
  text_->setMarkdown(text);
}

void HelpPanel::showStation(Station station) {
  station_ = station;
  if (!words_->text().trimmed().isEmpty()) return;  // the search stays
  showPage(stationName(station), page(stationName(station)));
}

void HelpPanel::showKeys() { showPage("All keys", page("keys")); }

/// The paragraphs that hold all the words, under the page each is from.
void HelpPanel::search(const QString& words) {
  const QStringList wanted = words.split(' ', Qt::SkipEmptyParts);
  if (wanted.isEmpty()) return showStation(station_);
  QString found;
  const auto look = [&](const QString& name, const QString& link) {
    QStringList hits;
    for (const QString& block : page(name).split("\n\n"))
      if (std::all_of(wanted.begin(), wanted.end(),
                      [&](const QString& w) { return block.contains(w, Qt::CaseInsensitive); }))
        hits << block;
    if (!hits.isEmpty()) found += QString("# [%1](<%2>)\n\n%3\n\n").arg(name, link, hits.join("\n\n"));
  };
  for (const StationInfo& info : stations()) look(info.name, info.name);
  look("Keys", "keys");
  showPage("search", found.isEmpty() ? "Nothing of that on any page." : found);
}

}  // namespace dusk
