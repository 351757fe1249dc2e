#pragma once
#include <QtTest>
#include <nlohmann/json.hpp>

#include "core/base/files.h"
#include "core/base/json_text.h"
#include "core/outside/http.h"

/// A shelf of the test's own, served by the stand-in that ships with the demo.
class ServedShelf {
 public:
  ServedShelf() { index_ = {{"shelf", 1}, {"title", "Test shelf"}, {"entries", nlohmann::json::array()}}; }
  ~ServedShelf() { end(); }

  std::filesystem::path folder() const { return folder_.path().toStdString() + "/served"; }
  std::filesystem::path own(const char* name) const { return folder_.path().toStdString() + "/" + name; }

  /// What an index says of a file that is there, put there first where it is new.
  nlohmann::json file(const std::string& path, const std::string& content) {
    std::filesystem::create_directories((folder() / path).parent_path());
    if (!dusk::writeFileAtomically(folder() / path, content).ok()) return {};
    return listed(path);
  }
  nlohmann::json listed(const std::string& path) {
    const auto hash = dusk::sha256Of(folder() / path);
    return {{"path", path},
            {"bytes", std::filesystem::file_size(folder() / path)},
            {"sha256", hash.ok() ? *hash : std::string()}};
  }
  nlohmann::json& add(const char* id, const char* kind, nlohmann::json files) {
    index_["entries"].push_back({{"id", id}, {"kind", kind}, {"title", id}, {"files", std::move(files)}});
    return index_["entries"].back();
  }
  void save() {
    std::filesystem::create_directories(folder());
    QVERIFY(dusk::writeFileAtomically(folder() / "index.json", dusk::jsonText(index_)).ok());
  }
  /// Serves what was saved; the address stays the same from one start to the next.
  std::string serve(const QStringList& how = {}) {
    end();
    server_ = std::make_unique<QProcess>();
    QStringList words{QString::fromStdString(folder().string())};
    if (!port_.isEmpty()) words << "--port" << port_;
    server_->start(DUSK_SOURCE "/demo/outside/shelf", words + how);
    if (!server_->waitForReadyRead(20'000)) return {};
    const QString address = QString(server_->readLine()).trimmed();
    port_ = QUrl(address).toString().section(':', 2).remove('/');
    return address.toStdString();
  }
  void end() {
    if (!server_) return;
    server_->kill();
    server_->waitForFinished(5000);
    server_.reset();
  }

 private:
  QTemporaryDir folder_;
  nlohmann::json index_;
  std::unique_ptr<QProcess> server_;
  QString port_;
};
