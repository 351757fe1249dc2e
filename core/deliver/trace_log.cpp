#include "core/deliver/trace_log.h"

#include <fcntl.h>
#include <sys/file.h>
#include <unistd.h>
#include <zstd.h>

#include <cerrno>
#include <cstring>
#include <nlohmann/json.hpp>

#include "core/base/hash.h"
#include "core/base/json_text.h"
#include "core/base/words.h"
#include "core/project/json.h"
#include "core/trace/slabs.h"

namespace dusk {
namespace {

namespace fs = std::filesystem;
constexpr char magic[8] = {'G', 'D', 't', 'r', 'a', 'c', 'e', '1'};
constexpr size_t mostHead = size_t{64} << 20, mostPiece = size_t{4} << 30;

/// Before each piece.
struct PieceHead {
  int32_t layer, x0, y0, x1, y1, passes, isComplete, unused = 0;
  uint64_t bytes, packedBytes;
  char hash[32];
};

using PieceKey = std::array<int, 5>;
PieceKey keyOf(int layer, const Film::Window& w) { return {layer, w.x0, w.y0, w.x1, w.y1}; }

bool readAll(int fd, off_t at, void* to, size_t count) {
  char* bytes = static_cast<char*>(to);
  while (count > 0) {
    const ssize_t n = ::pread(fd, bytes, count, at);
    if (n < 0 && errno == EINTR) continue;
    if (n <= 0) return false;
    bytes += n, at += n, count -= size_t(n);
  }
  return true;
}

int writeAll(int fd, const void* from, size_t count) {
  const char* bytes = static_cast<const char*>(from);
  while (count > 0) {
    const ssize_t n = ::write(fd, bytes, count);
    if (n < 0 && errno == EINTR) continue;
    if (n < 0) return errno;
    bytes += n, count -= size_t(n);
  }
  return 0;
}

std::string headText(const TraceHead& head) {
  return jsonText(nlohmann::json{
      {"fingerprint", head.fingerprint}, {"part", head.part}, {"parts", head.parts}, {"order", head.order}});
}

/// The head of a file, and where it ends; nothing where it is no such file.
std::optional<std::pair<TraceHead, off_t>> readHead(int fd) {
  char mark[sizeof magic];
  uint32_t size = 0;
  if (!readAll(fd, 0, mark, sizeof mark) || std::memcmp(mark, magic, sizeof magic) != 0 ||
      !readAll(fd, sizeof magic, &size, sizeof size) || size > mostHead)
    return {};
  std::string text(size, '\0');
  if (!readAll(fd, sizeof magic + sizeof size, text.data(), size)) return {};
  try {
    const auto json = parsedJson(text);
    const TraceHead head{json.at("fingerprint").get<std::string>(), json.at("part").get<int>(),
                         json.at("parts").get<int>(), json.value("order", "")};
    return std::pair(head, off_t(sizeof magic + sizeof size + size));
  } catch (const nlohmann::json::exception&) {
    return {};
  }
}

/// Whether a file without a whole head is one whose head was cut off; an empty one, too.
bool isBegun(int fd) {
  char mark[sizeof magic];
  const off_t size = std::min<off_t>(::lseek(fd, 0, SEEK_END), sizeof magic);
  return readAll(fd, 0, mark, size_t(size)) && std::memcmp(mark, magic, size_t(size)) == 0;
}

Error cannotRead(const fs::path& file, const std::string& why) {
  return {file.string() + words(" cannot be used: ") + why, ErrorKind::unreadable};
}

}  // namespace

struct TraceLog::State {
  struct Chunk {
    int passes = 0;
    bool isComplete = false;
    size_t file = 0;  ///< which of the files holds it
    off_t at = 0;     ///< where its bytes begin
    size_t bytes = 0, packedBytes = 0;
    std::string hash;
  };
  struct File {
    fs::path path;
    int fd = -1;
  };
  std::vector<File> files;
  TraceHead head;
  std::map<PieceKey, Chunk> pieces;
  bool writable = false;
  off_t end = 0;

  ~State() {
    for (const File& f : files)
      if (f.fd >= 0) ::close(f.fd);
  }

  /// Lists the pieces of a file, up to the first that is not whole; gives where they end.
  off_t scan(size_t file, off_t at) {
    const int fd = files[file].fd;
    const off_t size = ::lseek(fd, 0, SEEK_END);
    PieceHead h;
    while (at + off_t(sizeof h) <= size && readAll(fd, at, &h, sizeof h)) {
      const off_t begin = at + off_t(sizeof h);
      if (h.bytes > mostPiece || h.packedBytes > uint64_t(size - begin) || h.passes < 0) break;
      Chunk piece{h.passes, h.isComplete != 0, file, begin, h.bytes, h.packedBytes, {h.hash, sizeof h.hash}};
      // The last one may have been cut off while it was written.
      if (begin + off_t(h.packedBytes) == size && !isWhole(piece)) break;
      Chunk& kept = pieces[{h.layer, h.x0, h.y0, h.x1, h.y1}];
      if (!kept.isComplete) kept = std::move(piece);
      at = begin + off_t(h.packedBytes);
    }
    return at;
  }
  bool isWhole(const Chunk& piece) const {
    std::string bytes(piece.packedBytes, '\0');
    return readAll(files[piece.file].fd, piece.at, bytes.data(), bytes.size()) &&
           hashBytes(bytes.data(), bytes.size()) == piece.hash;
  }
  const Chunk* find(int layer, const Film::Window& w) const {
    const auto at = pieces.find(keyOf(layer, w));
    return at == pieces.end() || at->second.passes == 0 ? nullptr : &at->second;
  }
  Error failed(int code) const {
    return {words("What was traced cannot be kept in ") + files[0].path.string() + ": " +
            std::strerror(code) + words(". Check the folder and the free space on its disk.")};
  }
};

TraceLog::TraceLog(std::unique_ptr<State> state) : state_(std::move(state)) {}
TraceLog::~TraceLog() = default;
bool TraceLog::isWritable() const { return state_->writable; }
const TraceHead& TraceLog::head() const { return state_->head; }

Result<std::unique_ptr<TraceLog>> TraceLog::open(const fs::path& file, const TraceHead& head) {
  auto state = std::make_unique<State>();
  state->head = head, state->writable = true;
  std::error_code ignored;
  if (file.has_parent_path()) fs::create_directories(file.parent_path(), ignored);
  state->files.push_back({file, ::open(file.c_str(), O_RDWR | O_CREAT | O_CLOEXEC, 0644)});
  const int fd = state->files[0].fd;
  if (fd < 0) return state->failed(errno);
  if (::flock(fd, LOCK_EX | LOCK_NB) != 0)
    return Error{file.string() +
                 words(" is being written by another program. Wait for it, or name another file.")};
  const auto known = readHead(fd);
  if (!known && !isBegun(fd))
    return cannotRead(file, words("it is something else, and stays as it is. Name another file."));
  if (known && !known->first.isOf(head))
    return cannotRead(
        file, words("it holds the samples of another picture, or of other settings. Name another file, "
                    "or delete it."));
  if (known) {
    state->end = state->scan(0, known->second);
  } else {
    const std::string text = headText(head);
    const auto size = uint32_t(text.size());
    std::string bytes(magic, sizeof magic);
    bytes.append(reinterpret_cast<const char*>(&size), sizeof size);
    bytes += text;
    if (::ftruncate(fd, 0) != 0) return state->failed(errno);
    if (const int code = writeAll(fd, bytes.data(), bytes.size())) return state->failed(code);
    state->end = off_t(bytes.size());
  }
  if (::ftruncate(fd, state->end) != 0) return state->failed(errno);
  ::lseek(fd, state->end, SEEK_SET);
  return std::unique_ptr<TraceLog>(new TraceLog(std::move(state)));
}

Result<std::string> TraceLog::orderIn(const fs::path& file) {
  const int fd = ::open(file.c_str(), O_RDONLY | O_CLOEXEC);
  if (fd < 0) return cannotRead(file, words("it is not there, or not readable."));
  auto head = readHead(fd);
  ::close(fd);
  if (!head || head->first.order.empty()) return cannotRead(file, words("it is no part of a trace."));
  return std::move(head->first.order);
}

Result<std::unique_ptr<TraceLog>> TraceLog::gather(const std::vector<fs::path>& parts,
                                                   const std::string& fingerprint) {
  auto state = std::make_unique<State>();
  std::map<int, fs::path> seen;
  for (const fs::path& file : parts) {
    state->files.push_back({file, ::open(file.c_str(), O_RDONLY | O_CLOEXEC)});
    const int fd = state->files.back().fd;
    if (fd < 0) return cannotRead(file, words("it is not there, or not readable."));
    const auto known = readHead(fd);
    if (!known) return cannotRead(file, words("it is no part of a trace."));
    const TraceHead& head = known->first;
    if (head.fingerprint != fingerprint)
      return cannotRead(file, words("it was traced of another picture, or with other settings."));
    if (state->head.fingerprint.empty()) state->head = head;
    if (head.parts != state->head.parts)
      return cannotRead(file, words("it is one of ") + std::to_string(head.parts) +
                                  words(" parts, the others of ") + std::to_string(state->head.parts) + ".");
    if (const auto& [at, fresh] = seen.emplace(head.part, file); !fresh)
      return cannotRead(file, words("it is the same part as ") + at->second.string() + ".");
    state->scan(state->files.size() - 1, known->second);
  }
  for (int i = 1; i <= state->head.parts; ++i)
    if (!seen.count(i))
      return Error{"Part " + std::to_string(i) + words(" of ") + std::to_string(state->head.parts) +
                   words(" is missing. Trace it, and name its file too.")};
  return std::unique_ptr<TraceLog>(new TraceLog(std::move(state)));
}

int TraceLog::passesOf(int layer, const Film::Window& piece) const {
  const State::Chunk* found = state_->find(layer, piece);
  return found ? found->passes : 0;
}
bool TraceLog::isComplete(int layer, const Film::Window& piece) const {
  const State::Chunk* found = state_->find(layer, piece);
  return found && found->isComplete;
}

Outcome TraceLog::load(int layer, const Film::Window& window, Film& film) const {
  const State::Chunk* piece = state_->find(layer, window);
  if (!piece) return Error{words("A piece of the trace is missing.")};
  const State::File& file = state_->files[piece->file];
  std::string bytes(piece->packedBytes, '\0'), raw(piece->bytes, '\0');
  const bool ok = readAll(file.fd, piece->at, bytes.data(), bytes.size()) &&
                  hashBytes(bytes.data(), bytes.size()) == piece->hash &&
                  ZSTD_decompress(raw.data(), raw.size(), bytes.data(), bytes.size()) == raw.size() &&
                  unpack(raw, window, film);
  return ok ? done()
            : cannotRead(file.path, words("a piece of it is damaged. Delete it, and trace it again."));
}

Outcome TraceLog::save(int layer, const Film::Window& w, const Film& film, int passes, bool isComplete) {
  const std::string raw = packed(film, w);
  std::string bytes(ZSTD_compressBound(raw.size()), '\0');
  constexpr int quickest = 1;
  bytes.resize(ZSTD_compress(bytes.data(), bytes.size(), raw.data(), raw.size(), quickest));
  PieceHead head{layer, w.x0, w.y0, w.x1, w.y1, passes, isComplete, 0, raw.size(), bytes.size(), {}};
  const std::string hash = hashBytes(bytes.data(), bytes.size());
  std::copy_n(hash.begin(), sizeof head.hash, head.hash);
  const int fd = state_->files[0].fd;
  int code = writeAll(fd, &head, sizeof head);
  if (code == 0) code = writeAll(fd, bytes.data(), bytes.size());
  if (code == 0 && ::fdatasync(fd) != 0) code = errno;
  if (code != 0) return state_->failed(code);
  const off_t begin = state_->end + off_t(sizeof head);
  state_->pieces[keyOf(layer, w)] = {passes, isComplete, 0, begin, raw.size(), bytes.size(), hash};
  state_->end = begin + off_t(bytes.size());
  return done();
}

void TraceLog::remove() {
  std::error_code ignored;
  if (state_->writable) fs::remove(state_->files[0].path, ignored);
}

}  // namespace dusk
