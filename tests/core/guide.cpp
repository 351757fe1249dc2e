#include <QtTest>

#include "core/base/files.h"
#include "core/deliver/pass_list.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// The guide says nothing that is not there: its links lead somewhere, its verbs and passes exist.
class TestGuide : public QObject {
  Q_OBJECT
 private slots:
  void linksLeadSomewhere();
  void everyPageIsReachedFromTheFirst();
  void verbsAreTheProgramsOwn();
  void passesAreAllThere();
  void everyPictureIsShownSomewhere();
  void otherLanguagesHaveEveryPage();

 private:
  const fs::path docs_ = fs::path(DUSK_SOURCE) / "docs";
  std::vector<fs::path> pages() const {
    std::vector<fs::path> all{fs::path(DUSK_SOURCE) / "README.md"};
    for (const auto& entry : fs::recursive_directory_iterator(docs_))
      if (entry.path().extension() == ".md") all.push_back(entry.path());
    return all;
  }
  static QString textOf(const fs::path& file) {
    const auto text = readFile(file);
    return text ? QString::fromStdString(*text) : QString();
  }
  /// Files that a page links to, as paths.
  static std::vector<fs::path> linksOf(const fs::path& page) {
    std::vector<fs::path> all;
    static const QRegularExpression link(R"(\]\(([^)#: ]+)[^):]*\))");
    for (auto found = link.globalMatch(textOf(page)); found.hasNext();)
      all.push_back((page.parent_path() / found.next().captured(1).toStdString()).lexically_normal());
    return all;
  }
  static QString helpOf(const QStringList& verb) {
    QProcess program;
    program.start(DUSK_BATCH, verb + QStringList{"--help"});
    program.waitForFinished(20'000);
    return QString::fromUtf8(program.readAllStandardOutput());
  }
};

void TestGuide::linksLeadSomewhere() {
  int links = 0;
  for (const fs::path& page : pages())
    for (const fs::path& to : linksOf(page)) {
      ++links;
      QVERIFY2(fs::exists(to), (page.string() + " links to " + to.string()).c_str());
    }
  QVERIFY2(links > 50, qPrintable(QString::number(links)));
}

void TestGuide::everyPageIsReachedFromTheFirst() {
  std::set<fs::path> reached;
  std::vector<fs::path> open{docs_ / "guide/README.md"};
  while (!open.empty()) {
    const fs::path page = open.back();
    open.pop_back();
    if (page.extension() != ".md" || !reached.insert(page).second) continue;
    for (const fs::path& to : linksOf(page)) open.push_back(to);
  }
  for (const auto& entry : fs::recursive_directory_iterator(docs_ / "guide"))
    QVERIFY2(entry.is_directory() || reached.contains(entry.path()), entry.path().c_str());
}

void TestGuide::verbsAreTheProgramsOwn() {
  // What follows the program's name in a line of code, up to its first option, file or placeholder.
  static const QRegularExpression call(R"(gentle-dusk-batch ((?:[a-z]+ ?){1,2})([^\n`|]*))");
  static const QRegularExpression option(R"(--[a-z-]+)");
  const QString whole = helpOf({});
  std::map<QString, QString> helps;
  int calls = 0;
  for (const fs::path& page : pages())
    for (auto found = call.globalMatch(textOf(page)); found.hasNext();) {
      const auto match = found.next();
      QStringList words = match.captured(1).split(' ', Qt::SkipEmptyParts);
      if (!whole.contains("\n  " + words[0] + " ")) continue;  // prose that goes on after the name
      ++calls;
      QString& help = helps[words.join(' ')];
      if (help.isEmpty()) help = helpOf(words);
      if (!help.contains("Options:") && words.size() > 1) help = helpOf({words[0]});
      QVERIFY2(help.contains("Usage:"), qPrintable(words.join(' ')));
      for (auto o = option.globalMatch(match.captured(2).section('#', 0, 0)); o.hasNext();) {
        const QString name = o.next().captured();
        QVERIFY2(help.contains(name) || whole.contains(name),
                 qPrintable(QString::fromStdString(page.string()) + ": " + words.join(' ') + " " + name));
      }
    }
  QVERIFY2(calls > 20, qPrintable(QString::number(calls)));
}

void TestGuide::passesAreAllThere() {
  const QString page = textOf(docs_ / "guide/passes.md");
  for (const std::string& name : passFamilies())
    QVERIFY2(page.contains("`" + QString::fromStdString(name) + "`"), name.c_str());
}

void TestGuide::everyPictureIsShownSomewhere() {
  QString all;
  for (const fs::path& page : pages()) all += textOf(page);
  for (const auto& entry : fs::directory_iterator(docs_ / "screenshots"))
    QVERIFY2(all.contains(QString::fromStdString("screenshots/" + entry.path().filename().string())),
             entry.path().c_str());
}

/// Page for page, with the same pictures, figures of speech for the program alone left as they are.
void TestGuide::otherLanguagesHaveEveryPage() {
  static const QRegularExpression code("`[^`\\n]+`|screenshots/[a-z0-9-]+");
  const auto kept = [&](const fs::path& page) {
    QStringList all;
    for (auto found = code.globalMatch(textOf(page)); found.hasNext();) all << found.next().captured();
    all.sort();
    return all;
  };
  for (const auto& entry : fs::directory_iterator(docs_ / "guide")) {
    if (entry.is_directory()) continue;
    const fs::path own = docs_ / "guide/de" / entry.path().filename();
    QVERIFY2(fs::exists(own), own.c_str());
    QVERIFY2(kept(own) == kept(entry.path()), own.c_str());
  }
}

DUSK_TEST(TestGuide, QCoreApplication);
#include "guide.moc"
