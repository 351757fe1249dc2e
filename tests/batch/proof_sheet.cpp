#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/project/deliverable_kinds.h"
#include "tests/headless.h"
#include "tests/program.h"
#include "tests/small_demo.h"

using namespace dusk;
using nlohmann::json;

/// A browser without a window, spoken to through pipes (the Chrome DevTools Protocol).
class Browser {
 public:
  /// False where it is not installed.
  bool start() {
    const QString program = QStandardPaths::findExecutable("chromium");
    if (program.isEmpty()) return false;
    process_.setProcessChannelMode(QProcess::SeparateChannels);
    // It listens at 3 and answers at 4.
    process_.start(
        "sh", {"-c", "exec 3<&0 4>&1 1>&2 && exec " + program +
                         " --headless=new --no-sandbox --disable-gpu --disable-dev-shm-usage "
                         "--user-data-dir=" +
                         profile_.path() + " --window-size=1280,900 --remote-debugging-pipe about:blank"});
    return process_.waitForStarted();
  }
  ~Browser() {
    process_.kill();
    process_.waitForFinished();
  }
  /// Opens a page, and waits until it says that it is ready.
  bool open(const QString& file) {
    const json targets = call("Target.getTargets");
    for (const json& target : targets["targetInfos"])
      if (target["type"] == "page")
        session_ =
            call("Target.attachToTarget", {{"targetId", target["targetId"]}, {"flatten", true}})["sessionId"];
    call("Network.enable"), call("Page.enable"), call("Runtime.enable");
    call("Page.navigate", {{"url", QUrl::fromLocalFile(file).toString().toStdString()}});
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < 15'000)
      if (eval("document.documentElement.dataset.ready") == "yes") return true;
    return false;
  }
  json eval(const std::string& expression) {
    const json result = call("Runtime.evaluate", {{"expression", expression}, {"returnByValue", true}});
    return result.contains("result") ? result["result"].value("value", json()) : json();
  }
  void mouse(const std::string& type, double x, double y, bool held) {
    call("Input.dispatchMouseEvent", {{"type", type},
                                      {"x", x},
                                      {"y", y},
                                      {"button", held || type == "mouseReleased" ? "left" : "none"},
                                      {"buttons", held ? 1 : 0},
                                      {"clickCount", 1}});
  }
  void key(const char* name, int code) {
    for (const char* type : {"keyDown", "keyUp"})
      call("Input.dispatchKeyEvent",
           {{"type", type}, {"key", name}, {"code", name}, {"windowsVirtualKeyCode", code}});
  }
  const std::vector<std::string>& requests() const { return requests_; }

 private:
  json call(const std::string& method, json parameters = json::object()) {
    json message = {{"id", ++last_}, {"method", method}, {"params", std::move(parameters)}};
    if (!session_.empty()) message["sessionId"] = session_;
    process_.write(QByteArray::fromStdString(jsonText(message)).append('\0'));
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < 20'000) {
      const qsizetype end = read_.indexOf('\0');
      if (end < 0) {
        process_.waitForReadyRead(200);
        read_ += process_.readAllStandardOutput();
        continue;
      }
      const json answer = jsonFrom(read_.left(end).toStdString());
      read_.remove(0, end + 1);
      if (answer.value("method", "") == "Network.requestWillBeSent")
        requests_.push_back(answer["params"]["request"]["url"].get<std::string>().substr(0, 5));
      if (answer.value("id", 0) == last_) return answer.value("result", json::object());
    }
    return json::object();
  }

  QProcess process_;
  QTemporaryDir profile_;
  QByteArray read_;
  std::string session_;
  int last_ = 0;
  std::vector<std::string> requests_;
};

class TestProofSheet : public QObject {
  Q_OBJECT
  static constexpr int wide = 1440;
  QTemporaryDir folder_;
  QString in(const QString& name) { return folder_.filePath(name); }

 private slots:
  void initTestCase();
  void pageHoldsEverything();
  void pageIsWorkedInABrowser();
  void pdfIsOne();
};

void TestProofSheet::initTestCase() {
  // Larger than the browser's window, so that it has to be made to fit.
  Project p = smallDemo(folder_.path().toStdString(), "brackwater.dusk", wide);
  Shot& shot = p.shots[0];
  shot.handOver.title = "Gauge <on> the \"quay\" & more";
  shot.placements[0].liftM = 0.02;  // one finding is off
  shot.deliverables = {usualOf(DeliverableKind::proofPage, "proof"),
                       usualOf(DeliverableKind::proofPdf, "proof"), usualOf(DeliverableKind::png, "picture")};
  QVERIFY(saveProject(p, in("quay.dusk").toStdString()).ok());
  const Headless made = headless({"render", in("quay.dusk"), "--out", in("out"), "--samples", "4"});
  QVERIFY2(made.code == 0, made.words.constData());
}

void TestProofSheet::pageHoldsEverything() {
  const auto page = readFile(in("out/proof.html").toStdString());
  QVERIFY(page.ok());
  QVERIFY2(page->size() < 3'000'000, qPrintable(QString::number(page->size())));
  for (const char* said : {"Gauge &lt;on&gt; the &quot;quay&quot; &amp; more", "hovers over", "It floats.",
                           "picture.png", "default-src 'none'", "1440 × 960", "4 samples"})
    QVERIFY2(page->find(said) != std::string::npos, said);
  for (const char* outside : {"http://", "https://", "src=\"//", "@import", "url("})
    QVERIFY2(page->find(outside) == std::string::npos, outside);
}

void TestProofSheet::pageIsWorkedInABrowser() {
  Browser browser;
  if (!browser.start()) QSKIP("Chromium is not installed here");
  QElapsedTimer clock;
  clock.start();
  QVERIFY(browser.open(in("out/proof.html")));
  const auto at = [&] { return browser.eval("+document.getElementById('slider').value").get<double>(); };
  QCOMPARE(at(), 50.0);
  QCOMPARE(browser.eval("document.getElementById('after').naturalWidth").get<int>(), wide);
  QVERIFY(browser.eval("document.body.scrollWidth <= innerWidth").get<bool>());  // nothing sticks out
  const json box = browser.eval(
      "(r => ({x: r.x, y: r.y, w: r.width, h: "
      "r.height}))(document.getElementById('stage').getBoundingClientRect())");
  const double x = box["x"], y = double(box["y"]) + 100, w = box["w"];
  // By pointer: pressed in the middle, pulled to a fourth.
  browser.mouse("mousePressed", x + w / 2, y, true);
  for (int i = 1; i <= 5; ++i) browser.mouse("mouseMoved", x + w / 2 - w / 20 * i, y, true);
  browser.mouse("mouseReleased", x + w / 4, y, false);
  QVERIFY2(std::abs(at() - 25) <= 1, qPrintable(QString::number(at())));
  browser.mouse("mouseMoved", x + w * 0.9, y, false);
  QVERIFY(std::abs(at() - 25) <= 1);  // let go
  // By keys.
  browser.eval("document.getElementById('slider').focus()");
  for (int i = 0; i < 4; ++i) browser.key("ArrowRight", 39);
  QVERIFY2(std::abs(at() - 29) <= 1, qPrintable(QString::number(at())));
  QVERIFY(browser.eval("getComputedStyle(document.getElementById('before')).clipPath")
              .get<std::string>()
              .find("inset") == 0);
  // One pixel for one.
  browser.eval("document.getElementById('real').focus()");
  browser.key("Enter", 13);
  browser.eval(
      "document.getElementById('real').getAttribute('aria-pressed') == 'true' || "
      "document.getElementById('real').click()");
  QCOMPARE(
      browser.eval("Math.round(document.getElementById('after').getBoundingClientRect().width)").get<int>(),
      wide);
  QVERIFY(browser.eval("document.querySelectorAll('#findings .off').length").get<int>() >= 1);
  QVERIFY(browser.eval("document.querySelectorAll('#findings .ok').length").get<int>() > 10);
  for (const std::string& url : browser.requests()) QVERIFY2(url == "file:" || url == "data:", url.c_str());
}

void TestProofSheet::pdfIsOne() {
  const auto pdf = readFile(in("out/proof.pdf").toStdString());
  QVERIFY(pdf.ok() && pdf->starts_with("%PDF-") && pdf->find("%%EOF") != std::string::npos);
  QVERIFY(pdf->size() > 100'000 && pdf->size() < 3'000'000);
  // Drawn by another library's reader (the print worker's), its first page is not empty.
  QVERIFY(pdf->find("/Type /Page") != std::string::npos);
}

DUSK_TEST(TestProofSheet, QCoreApplication);
#include "proof_sheet.moc"
