#include <QRegularExpression>
#include <QtTest>

#include "tests/program.h"

namespace {

/// A text of the sources, and by which calls it is enclosed, the innermost last.
struct Text {
  QString text;
  QStringList calls;
};

std::vector<Text> textsOf(const QString& source);

}  // namespace

/// What the window says can be said in another language: the sources are read for sentences that no catalogue
/// would be asked for.
class TestSaid : public QObject {
  Q_OBJECT
 private slots:
  void textsAreTold();
  void theWindowSpeaksThroughItsCatalogue();
};

namespace {

/// The texts of a source file; comments and included files are none.
std::vector<Text> textsOf(const QString& source) {
  static const QRegularExpression token(
      R"re(//[^\n]*|#include[^\n]*|R"(\w*)\((?:(?!\)\1")[\s\S])*\)\1"|'(?:[^'\\\n]|\\.)'|)re"
      R"re("((?:[^"\\\n]|\\.)*)"|([A-Za-z_]\w*)?\s*([({])|([)}]))re");
  std::vector<Text> texts;
  QStringList calls;
  for (auto at = token.globalMatch(source); at.hasNext();) {
    const auto match = at.next();
    if (!match.captured(4).isEmpty())
      calls << match.captured(3);
    else if (!match.captured(5).isEmpty() && !calls.isEmpty())
      calls.removeLast();
    else if (match.capturedStart(2) >= 0)
      texts.push_back({match.captured(2), calls});
  }
  return texts;
}

}  // namespace

void TestSaid::textsAreTold() {
  const auto texts =
      textsOf("f(words(\"a b\"), { g(\"c \\\" d\") });  // \"no\"\n#include \"e f\"\nx(\"g\")");
  QCOMPARE(texts.size(), size_t(3));
  QVERIFY(texts[0].calls.contains("words") && texts[0].text == "a b");
  QVERIFY(!texts[1].calls.contains("words") && texts[1].calls.last() == "g");
  QCOMPARE(texts[2].calls, QStringList{"x"});
}

void TestSaid::theWindowSpeaksThroughItsCatalogue() {
  // For programs, not for people: names of work, of views in files; logs stay in one language.
  const QStringList keys{"variant picture", "dressed product", "shelf p", "shelf s", "plain sRGB"};
  const QRegularExpression sentence("[a-z]{2,} [a-z]{2,}|^[A-Z][a-z]+ [a-z]+"), dress("[<{;]|: %1");
  QStringList unsaid;
  for (QDirIterator at(DUSK_SOURCE "/app", {"*.cpp", "*.h"}, QDir::Files, QDirIterator::Subdirectories);
       at.hasNext();) {
    QFile file(at.next());
    // Pictures are of the demo, whose names are no one's language, and what --help says, like all that is
    // told in a terminal, is not translated.
    if (file.fileName().contains("take_pictures") || file.fileName().endsWith("app/main.cpp")) continue;
    QVERIFY(file.open(QIODevice::ReadOnly));
    for (const Text& text : textsOf(QString::fromUtf8(file.readAll()))) {
      if (!text.text.contains(sentence) || text.text.contains(dress) || keys.contains(text.text)) continue;
      const auto isSaid = [](const QString& call) {
        return call == "words" || call == "marked" || call == "log";
      };
      if (std::none_of(text.calls.begin(), text.calls.end(), isSaid))
        unsaid << QFileInfo(file).fileName() + ": " + text.text;
    }
  }
  QVERIFY2(unsaid.isEmpty(), qPrintable(unsaid.join("\n")));
}

DUSK_TEST(TestSaid, dusk::NoApplication);
#include "said.moc"
