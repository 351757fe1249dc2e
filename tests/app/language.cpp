#include <set>

#include "app/language/language.h"
#include "app/stations/stations.h"
#include "app/widgets/number_field.h"
#include "core/base/words.h"
#include "tests/app/demo_window.h"
#include "tests/program.h"

using namespace dusk;
using Pair = std::pair<QString, QString>;

/// What people read, in another language than the code's: German whole, and a language nobody speaks, in
/// which all that is shown has marks over its vowels, and is longer.
class TestLanguage : public DemoWindow {
  Q_OBJECT

  /// The place of the German in languages().
  static int german() {
    for (size_t i = 0; i < languages().size(); ++i)
      if (languages()[i].code == std::string("de")) return int(i);
    return -1;
  }
  /// English and German of a catalogue, in the escapes of its file; several forms each.
  static std::vector<Pair> entriesOf(const QString& file) {
    QFile po(file);
    if (!po.open(QIODevice::ReadOnly)) return {};
    std::vector<Pair> entries;
    QString english, now;
    static const QRegularExpression line("^(msgid|msgid_plural|msgstr|msgstr\\[\\d\\]) \"(.*)\"$");
    for (const QString& text : QString::fromUtf8(po.readAll()).split('\n')) {
      const auto m = line.match(text);
      if (m.hasMatch() && m.captured(1) == "msgid") english = m.captured(2);
      if (m.hasMatch() && m.captured(1).startsWith("msgstr") && !english.isEmpty())
        entries.push_back({english, m.captured(2)});
      if (!m.hasMatch() && text.startsWith('"') && !english.isEmpty()) qWarning() << "broken line" << text;
    }
    return entries;
  }
  static QStringList placesIn(const QString& text) {
    // Places of numbers and names, tags, and what a line begins and ends with.
    static const QRegularExpression place("%L?(\\d)|\\{[a-z]+\\}|</?[a-z]+|\\\\n|%\\.\\d[fg]|&(?=\\w)");
    QStringList all;
    for (auto at = place.globalMatch(text); at.hasNext();) all << at.next().captured().remove('L');
    all.sort();
    return all;
  }

  static std::string accented(const char* english, long) {
    QString text = QString::fromUtf8(english), out;
    static const QRegularExpression kept("%L?\\d|\\{[a-z]+\\}|<[^>]*>|\\*\\.\\w+|%\\.\\d[fg]|README\\.md|.");
    static const QString vowels = "aeiouAEIOU", shown = QString::fromUtf8("áéíóúÁÉÍÓÚ");
    int vowel = 0;
    for (auto at = kept.globalMatch(text); at.hasNext();) {
      const QString piece = at.next().captured();
      const qsizetype which = piece.size() == 1 ? vowels.indexOf(piece[0]) : -1;
      // Every second vowel is said twice: as much longer as German is.
      for (int i = which >= 0 && ++vowel % 2 == 0 ? 2 : 1; i > 0; --i)
        out += which < 0 ? piece : QString(shown[which]);
    }
    return out.toStdString();
  }

  /// What a person reads of a widget, and what it is read aloud as.
  static QStringList textsOf(const QWidget* w) {
    QStringList all{w->toolTip(), w->accessibleName(), w->accessibleDescription(), w->windowTitle()};
    if (const auto* l = qobject_cast<const QLabel*>(w)) all << l->text();
    if (const auto* b = qobject_cast<const QAbstractButton*>(w)) all << b->text();
    if (const auto* e = qobject_cast<const QLineEdit*>(w)) all << e->placeholderText();
    if (const auto* c = qobject_cast<const QComboBox*>(w))
      for (int i = 0; i < c->count(); ++i) all << c->itemText(i);
    if (const auto* m = qobject_cast<const QMenu*>(w))
      for (const QAction* a : m->actions()) all << a->text() << a->toolTip();
    all.removeAll("");
    return all;
  }
  /// Words that stand there in English though nobody named a thing so.
  QStringList englishIn(QString text) const {
    static const QRegularExpression aside("<[^>]*>|#\\w+|[\\w./-]*/[\\w./-]*|\\S*\\.\\w{2,5}\\b|\\{\\w+\\}"),
        word("\\b[A-Za-z]{3,}\\b"), vowel("[aeiouAEIOU]");
    for (const QString& name : names_) text.remove(name);
    QStringList all;
    text.remove(aside);
    for (auto at = word.globalMatch(text); at.hasNext();)
      if (const QString one = at.next().captured(); one.contains(vowel) && !names_.contains(one)) all << one;
    return all;
  }
  /// The longest first.
  struct Longer {
    bool operator()(const QString& a, const QString& b) const {
      return a.size() != b.size() ? a.size() > b.size() : a < b;
    }
  };
  std::set<QString, Longer> names_;
  void learnNames();
  QStringList notTranslated();
  QStringList cutOff(const QString& where);
  QStringList numbersWithPoints();
  /// Goes through all stations with every fold open.
  void eachStation(const std::function<void()>& look) {
    for (int i = 0; i < stationCount; ++i) {
      session().setStation(Station(i));
      for (QToolButton* fold : window_->findChildren<QToolButton*>())
        if (fold->property("role") == "fold" && fold->isVisible() && !fold->isChecked()) fold->click();
      QTest::qWait(60);
      look();
    }
  }

 private slots:
  void initTestCase() { copyDemo(); }
  void cleanup() {
    window_.reset();
    speak(0);
  }
  void catalogueHasAllThatIsSaid();
  void placesStayInEveryLanguage();
  void wordsAreOfTheLanguageInUse();
  void numbersAreTypedAsTheyAreWritten();
  void whatHasNoNameTakesItsFiles();
  void allIsTranslated();
  void nothingIsCutOff_data();
  void nothingIsCutOff();
  void numbersAreShownAsTheyAreWritten();
};

void TestLanguage::catalogueHasAllThatIsSaid() {
  if (QStandardPaths::findExecutable("xgettext").isEmpty()) QSKIP("the gettext tools are not installed");
  const QString gathered = folder_.filePath("said.pot");
  QProcess gather;
  gather.start(DUSK_SOURCE "/app/language/gather.sh", {gathered});
  QVERIFY(gather.waitForFinished(60'000));
  QCOMPARE(gather.exitCode(), 0);
  const auto said = entriesOf(gathered), known = entriesOf(DUSK_SOURCE "/app/language/de.po");
  QVERIFY(said.size() > 3000);
  std::set<QString> translated;
  for (const auto& [english, own] : known)
    if (!own.isEmpty()) translated.insert(english);
  QStringList missing;
  for (const auto& [english, none] : said)
    if (!translated.count(english)) missing << english;
  QVERIFY2(missing.isEmpty(), qPrintable("run ./dusk words, and translate:\n" + missing.join('\n')));
}

void TestLanguage::placesStayInEveryLanguage() {
  for (const auto& [english, own] : entriesOf(DUSK_SOURCE "/app/language/de.po")) {
    QVERIFY2(placesIn(english) == placesIn(own), qPrintable(english + "\n" + own));
    QVERIFY2(english.endsWith(' ') == own.endsWith(' '), qPrintable(english + "\n" + own));
    QCOMPARE(own.count('|'), english.count('|'));
  }
}

void TestLanguage::wordsAreOfTheLanguageInUse() {
  QCOMPARE(words("Deliver"), "Deliver");
  const std::string dynamic = "Worn enamel";
  speak(german());
  QCOMPARE(spokenLanguage(), german());
  const char* once = words("Deliver");
  QCOMPARE(once, "Ausgeben");
  QCOMPARE(words("Deliver"), once);  // the same text, not another copy
  QCOMPARE(words(dynamic), "Abgenutzte Emaille");
  QCOMPARE(words("This is said nowhere."), "This is said nowhere.");
  QCOMPARE(QString(words("%1 part", "%1 parts", 1)).arg(1), "1 Teil");
  QCOMPARE(QString(words("%1 part", "%1 parts", 0)).arg(0), "0 Teile");
  QCOMPARE(QString(words("%1 part", "%1 parts", 7)).arg(7), "7 Teile");
  // The toolkit's own dialogs speak it, too.
  QCOMPARE(QCoreApplication::translate("QPlatformTheme", "Cancel"), "Abbrechen");
  speak(0);
  QCOMPARE(once, "Ausgeben");  // what was made keeps its words
  QCOMPARE(words("Deliver"), "Deliver");
  QCOMPARE(words("%1 part", "%1 parts", 1), "%1 part");
  QCOMPARE(words("%1 part", "%1 parts", 2), "%1 parts");
}

void TestLanguage::numbersAreTypedAsTheyAreWritten() {
  speak(german());
  NumberField field;
  field.setRange(-10, 10), field.setDecimals(2), field.setUnit("m");
  field.show();
  field.setValue(1.25);
  QCOMPARE(field.text(), "1,25 m");
  for (const char* typed : {"2,5", "2.5", "250 cm", "2,0 + 0,5"}) {
    field.setValue(0);
    field.setFocus();
    field.selectAll();
    QTest::keyClicks(&field, typed);
    QTest::keyClick(&field, Qt::Key_Return);
    QVERIFY2(qAbs(field.value() - 2.5) < 1e-9, typed);
  }
}

void TestLanguage::whatHasNoNameTakesItsFiles() {
  // What tells an unnamed project is the document's, not a word on the screen.
  speak(german());
  Session session;
  QVERIFY(session.save(folder_.filePath("harbour.dusk").toStdString()));
  QCOMPARE(session.project().name, "harbour");
}

/// Names of the document, of files and of formats are nobody's language.
void TestLanguage::learnNames() {
  for (const char* name :
       {"PNG JPEG TIFF EXR OpenColorIO OpenRaster EXIF Slurm Gentle Dusk DUSK AVIF WebP HEIC STEP IGES glTF "
        "OBJ PDF",
        "ISO CIEDE2000 HSV sRGB ACES CIELAB mired Deutsch English plain soft shoulder CryptoPart "
        "CryptoSurface",
        "CryptoProduct beauty reflection emission albedo normal depth position facing occlusion clay",
        "Home Ctrl Shift Alt Space Return Del Enter Esc Escape Backspace PgDown PgUp"})
    for (const QString& each : QString(name).split(' ')) names_.insert(each);
  const Project& p = session().project();
  const auto learn = [&](const std::string& name) {
    if (!name.empty()) names_.insert(QString::fromStdString(name));
  };
  learn(p.name);
  for (const Product& product : p.products) {
    learn(product.name);
    if (const auto model = session().assets()->loadedModel(product)) {
      for (const Part& part : model->parts) learn(part.name), learn(part.path);
      for (const Group& g : model->groups) learn(g.name), learn(g.path);
    }
    for (const Decal& d : product.decals) learn(d.name);
  }
  for (const Surface& s : p.surfaces) learn(s.name);
  for (const Shot& s : p.shots) {
    if (const auto photo = session().assets()->loadedPhoto(s.plate))
      for (const std::string& device : {photo->info.camera, photo->info.lens})
        for (const QString& word : QString::fromStdString(device).split(' ')) learn(word.toStdString());
    learn(s.name);
    for (const Lamp& l : s.lamps) learn(l.name);
    for (const StandIn& standIn : s.standIns) learn(standIn.name);
    for (const PictureFrame& f : s.frames) learn(f.name);
    for (const LevelPlane& level : s.levels) learn(level.name);
    for (const HeightReference& r : s.heightReferences) learn(r.name);
  }
}

QStringList TestLanguage::notTranslated() {
  QStringList found;
  for (const QWidget* w : window_->findChildren<QWidget*>()) {
    if (!w->isVisible() && !qobject_cast<const QMenu*>(w)) continue;
    for (const QString& text : textsOf(w))
      if (const QStringList english = englishIn(text); !english.isEmpty())
        found << "\"" + english.join(' ') + "\" in: " + text.left(160);
  }
  return found;
}

QStringList TestLanguage::cutOff(const QString& where) {
  QStringList found;
  for (const QWidget* w : window_->findChildren<QWidget*>()) {
    if (!w->isVisible() || w->visibleRegion().isEmpty()) continue;
    const auto* area = qobject_cast<const QScrollArea*>(w);
    if (area && area->widget() && area->widget()->width() > area->viewport()->width() + 1)
      found << where + ": wider than its panel: " + area->widget()->accessibleName();
    QString text;
    int room = w->contentsRect().width();
    if (const auto* l = qobject_cast<const QLabel*>(w); l && !l->wordWrap() && !l->text().contains('<'))
      text = l->text();
    if (const auto* b = qobject_cast<const QAbstractButton*>(w)) {
      text = b->text().remove('&');
      if (!b->icon().isNull()) room -= b->iconSize().width();
      if (qobject_cast<const QCheckBox*>(b)) room -= 23;
    }
    int wide = 0;
    for (const QString& line : text.split('\n'))
      wide = std::max(wide, w->fontMetrics().horizontalAdvance(line));
    if (wide > room) found << where + QString(": %1 px too long: ").arg(wide - room) + text;
  }
  return found;
}

void TestLanguage::allIsTranslated() {
  useCatalogue(accented);
  openDemo();
  if (QTest::currentTestFailed()) return;
  window_->resize(1280, 800);
  QVERIFY(waitForSamples(2));
  learnNames();
  QStringList found;
  eachStation([&] { found << notTranslated(); });
  for (QAction* action : window_->findChildren<QAction*>())
    if (action->shortcut() == QKeySequence("Ctrl+,")) action->trigger();
  QTest::qWait(20);
  found << notTranslated();
  found.removeDuplicates();
  for (const QString& each : found) qInfo().noquote() << each;
  QVERIFY(found.isEmpty());
}

void TestLanguage::nothingIsCutOff_data() {
  QTest::addColumn<bool>("isGerman");
  QTest::newRow("German") << true;
  QTest::newRow("longer words") << false;
}
void TestLanguage::nothingIsCutOff() {
  QFETCH(bool, isGerman);
  isGerman ? speak(german()) : useCatalogue(accented);
  openDemo();
  if (QTest::currentTestFailed()) return;
  window_->resize(1280, 800);
  QVERIFY(waitForSamples(2));
  QStringList found;
  for (int i = 0; i < stationCount; ++i) {
    session().setStation(Station(i));
    QTest::qWait(60);
    found << cutOff(infoOf(Station(i)).name);
    if (isGerman) grab(infoOf(Station(i)).name);
  }
  found.removeDuplicates();
  for (const QString& each : found) qInfo().noquote() << each;
  QVERIFY(found.isEmpty());
}

/// Numbers that stand with a point where a comma belongs; addresses, versions and names of files have points.
QStringList TestLanguage::numbersWithPoints() {
  // Thousands are told apart by points there.
  static const QRegularExpression pointed("(?<![\\w./:-])(?!\\d{1,3}\\.\\d{3}\\b)\\d+\\.\\d+(?![\\w./])");
  QStringList found;
  for (const QWidget* w : window_->findChildren<QWidget*>())
    if (w->isVisible())
      for (const QString& text : textsOf(w))
        if (pointed.match(text).hasMatch()) found << text.left(160);
  return found;
}

void TestLanguage::numbersAreShownAsTheyAreWritten() {
  speak(german());
  QCOMPARE(withDecimalMark("about 1.3 GB. 2 of them, 0.25"), "about 1,3 GB. 2 of them, 0,25");
  openDemo();
  if (QTest::currentTestFailed()) return;
  QVERIFY(waitForSamples(2));
  session().selectPart("Brackwater tide gauge/Housing/Body casting", shot().placements[0].id);
  QStringList found;
  eachStation([&] { found << numbersWithPoints(); });
  found.removeDuplicates();
  for (const QString& each : found) qInfo().noquote() << each;
  QVERIFY(found.isEmpty());
  speak(0);
  QCOMPARE(withDecimalMark("1.3 GB"), "1.3 GB");
}

DUSK_TEST(TestLanguage, QApplication);
#include "language.moc"
