#include "core/deliver/film_apart.h"

#include <QGuiApplication>
#include <QImage>
#include <QtTest>
#include <fstream>

#include "core/deliver/film_read.h"
#include "core/motion/sequence.h"
#include "tests/made_film.h"
#include "tests/program.h"

using namespace dusk;
namespace fs = std::filesystem;

/// Films as numbered pictures.
class TestFilmApart : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;
  Progress progress_;
  fs::path in(const std::string& name) { return fs::path(folder_.path().toStdString()) / name; }
  /// A film of so many pictures, each a little brighter than the one before.
  fs::path film(const std::string& name, int pictures) {
    std::vector<QColor> colours;
    for (int i = 0; i < pictures; ++i) colours.push_back(QColor(10 * i + 20, 90, 120));
    makeFilm(in(name), {64, 48}, 10, colours);
    return in(name);
  }

 private slots:
  void everyPictureIsThere();
  void whatIsThereStays();
  void brokenOffNothingIsLeft();
  void whatIsNoFilmIsSaid();
};

void TestFilmApart::everyPictureIsThere() {
  const fs::path file = film("walk.mp4", 19);
  const auto apart = takeApart(file, in("walk-pictures"), progress_);
  QVERIFY2(apart, apart ? "" : apart.error().message.c_str());
  QCOMPARE(apart->files.size(), size_t(19));
  QVERIFY(std::abs(apart->picturesPerSecond - 10) < 0.01);
  QCOMPARE(progress_.fraction(), 1.0);
  for (const int i : {0, 7, 8, 18}) {
    // As the film has it, to the rounding of 8 bits.
    const QImage written(QString::fromStdString(apart->files[size_t(i)].string()));
    const auto shown = readFilmPicture(file, i);
    QVERIFY(shown && written.size() == QSize(64, 48));
    const QColor at = written.pixelColor(30, 20);
    QVERIFY(std::abs(at.redF() - shown->at(30, 20)[0]) < 0.01f && std::abs(at.red() - (10 * i + 20)) < 6);
  }
  const auto sequence = sequenceOf(apart->files[3]);
  QVERIFY(sequence && sequence->files == apart->files && sequence->missing.empty());
}

void TestFilmApart::whatIsThereStays() {
  const fs::path file = film("again.mp4", 3);
  const auto first = takeApart(file, in("again-pictures"), progress_);
  QVERIFY(first);
  const auto when = fs::last_write_time(first->files[1]);
  const auto second = takeApart(file, in("again-pictures"), progress_);
  QVERIFY(second && second->files == first->files && fs::last_write_time(first->files[1]) == when);
  // A film that was changed since is taken apart anew, beside what came of the old one.
  fs::last_write_time(file, fs::file_time_type::clock::now() + std::chrono::hours(1));
  const auto changed = takeApart(file, in("again-pictures"), progress_);
  QVERIFY(changed && changed->files[0].parent_path() == in("again-pictures-2"));
  QVERIFY(fs::last_write_time(first->files[1]) == when);
  // So is one whose folder is someone else's.
  fs::create_directories(in("own-pictures"));
  std::ofstream(in("own-pictures") / "letter.txt") << "mine";
  const auto beside = takeApart(film("own.mp4", 2), in("own-pictures"), progress_);
  QVERIFY(beside && beside->files[0].parent_path() == in("own-pictures-2"));
  QVERIFY(fs::exists(in("own-pictures") / "letter.txt"));
}

void TestFilmApart::brokenOffNothingIsLeft() {
  const fs::path file = film("long.mp4", 12);
  Progress stopped;
  stopped.cancel();
  const auto apart = takeApart(file, in("long-pictures"), stopped);
  QVERIFY(!apart && apart.error().kind == ErrorKind::cancelled);
  for (const auto& entry : fs::directory_iterator(in("")))
    QVERIFY2(entry.path().filename().string().find("long-pictures") == std::string::npos,
             entry.path().c_str());
}

void TestFilmApart::whatIsNoFilmIsSaid() {
  std::ofstream(in("no.mp4")) << "not a film at all";
  const auto apart = takeApart(in("no.mp4"), in("no-pictures"), progress_);
  QVERIFY(!apart && apart.error().message.find("no.mp4 is no film") != std::string::npos);
  QVERIFY(!fs::exists(in("no-pictures")));
  // Cut off in the middle it gives what it holds, or says that it cannot be read.
  const fs::path whole = film("cut.mp4", 20);
  fs::resize_file(whole, fs::file_size(whole) * 2 / 3);
  const auto cut = takeApart(whole, in("cut-pictures"), progress_);
  QVERIFY(cut ? !cut->files.empty() && fs::exists(cut->files.back()) : !cut.error().message.empty());
  QVERIFY(isFilmFile("a/B.MOV") && !isFilmFile("a.png"));
}

DUSK_TEST(TestFilmApart, NoApplication);
#include "film_apart.moc"
