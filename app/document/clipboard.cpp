#include "app/document/clipboard.h"

#include <QClipboard>
#include <QGuiApplication>

#include "app/document/session.h"
#include "core/base/words.h"

namespace dusk {

void copyToClipboard(Session& session, Clip clip) {
  const AssetStore anywhere;
  eachLink(clip, [&](AssetRef& ref) { ref = anywhere.relinked(ref, *session.assets()); });
  QGuiApplication::clipboard()->setText(QString::fromStdString(toText(clip)));
  session.say(words("Copied ") + QString::fromStdString(clip.words()) + ".");
}

std::optional<Clip> clipOnClipboard(Session& session) {
  auto clip = clipFromText(QGuiApplication::clipboard()->text().toStdString());
  if (!clip) return session.say(QString::fromStdString(clip.error().message), true), std::nullopt;
  const AssetStore anywhere;
  eachLink(*clip, [&](AssetRef& ref) { ref = session.assets()->relinked(ref, anywhere); });
  return std::move(*clip);
}

void pasteFromClipboard(Session& session) {
  const auto clip = clipOnClipboard(session);
  if (!clip) return;
  const QString named = QString::fromStdString(clip->words());
  session.edit(words("paste ") + named, [&](Project& p) {
    paste(*clip, p, session.shotIndex());
    if (clip->evidence && !session.shotIn(p).vantage.locked) session.solveAgain(session.shotIn(p));
  });
  session.say(words("Added ") + named + ".");
}

}  // namespace dusk
