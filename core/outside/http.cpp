#include "core/outside/http.h"

#include "core/base/words.h"

#include <curl/curl.h>
#include <openssl/evp.h>

#include <cstdio>
#include <fstream>
#include <memory>
#include <mutex>

namespace dusk {
namespace fs = std::filesystem;
namespace {

using Handle = std::unique_ptr<CURL, decltype(&curl_easy_cleanup)>;
using File = std::unique_ptr<std::FILE, int (*)(std::FILE*)>;

/// One download under way, as the library's callbacks see it.
struct Transfer {
  const Remote& from;
  CURL* curl;
  std::FILE* file;
  Progress& progress;
  int64_t had = 0;  ///< bytes of `file` from an earlier try
  int64_t has = 0;  ///< bytes of `file` now
  bool begun = false, tooLong = false, notTaken = false;

  int64_t most() const { return from.bytes >= 0 ? std::min(from.bytes, from.limit) : from.limit; }

  /// The first bytes: a server that knows no ranges sends all of it again.
  bool begin() {
    begun = true;
    long status = 0;
    curl_easy_getinfo(curl, CURLINFO_RESPONSE_CODE, &status);
    if (status / 100 != 2) return true;  // of a page about the failure: not kept
    if (status == 206 || had == 0) return true;
    has = 0;
    return ftruncate(fileno(file), 0) == 0 && std::fseek(file, 0, SEEK_SET) == 0;
  }
  size_t take(const char* data, size_t size) {
    if (!begun && !begin()) return notTaken = true, 0;
    long status = 0;
    curl_easy_getinfo(curl, CURLINFO_RESPONSE_CODE, &status);
    if (status / 100 != 2) return size;
    if (has + int64_t(size) > most()) return tooLong = true, 0;
    if (std::fwrite(data, 1, size, file) != size) return notTaken = true, 0;
    has += int64_t(size);
    if (from.bytes > 0) progress.report(double(has) / double(from.bytes));
    return size;
  }
};

size_t takeBytes(char* data, size_t one, size_t count, void* transfer) {
  return static_cast<Transfer*>(transfer)->take(data, one * count);
}
int lookUp(void* transfer, curl_off_t, curl_off_t, curl_off_t, curl_off_t) {
  return static_cast<Transfer*>(transfer)->progress.cancelled() ? 1 : 0;
}

std::string escaped(CURL* curl, const Remote& from) {
  std::string url = from.base;
  if (!url.ends_with('/')) url += '/';
  size_t at = 0;
  while (at <= from.path.size()) {
    const size_t end = std::min(from.path.find('/', at), from.path.size());
    char* part = curl_easy_escape(curl, from.path.data() + at, int(end - at));
    url += part ? part : "";
    curl_free(part);
    if (end < from.path.size()) url += '/';
    at = end + 1;
  }
  return url;
}

void configure(CURL* curl, Transfer& transfer, const Patience& patience) {
  curl_easy_setopt(curl, CURLOPT_URL, escaped(curl, transfer.from).c_str());
  curl_easy_setopt(curl, CURLOPT_PROTOCOLS_STR, "http,https");
  curl_easy_setopt(curl, CURLOPT_FOLLOWLOCATION, 0L);
  curl_easy_setopt(curl, CURLOPT_NOSIGNAL, 1L);
  curl_easy_setopt(curl, CURLOPT_USERAGENT, "gentle-dusk");
  curl_easy_setopt(curl, CURLOPT_CONNECTTIMEOUT, long(patience.connectSeconds));
  curl_easy_setopt(curl, CURLOPT_LOW_SPEED_LIMIT, 1L);
  curl_easy_setopt(curl, CURLOPT_LOW_SPEED_TIME, long(patience.silentSeconds));
  curl_easy_setopt(curl, CURLOPT_RESUME_FROM_LARGE, curl_off_t(transfer.had));
  curl_easy_setopt(curl, CURLOPT_WRITEFUNCTION, takeBytes);
  curl_easy_setopt(curl, CURLOPT_WRITEDATA, &transfer);
  curl_easy_setopt(curl, CURLOPT_NOPROGRESS, 0L);
  curl_easy_setopt(curl, CURLOPT_XFERINFOFUNCTION, lookUp);
  curl_easy_setopt(curl, CURLOPT_XFERINFODATA, &transfer);
}

/// What went wrong on the way, as a sentence; nothing where all went well.
Outcome outcomeOf(CURLcode code, long status, const Transfer& transfer) {
  const std::string &where = transfer.from.base, &what = transfer.from.path;
  if (code == CURLE_ABORTED_BY_CALLBACK) return cancelledError();
  if (transfer.tooLong)
    return Error{what + words(" is longer than ") + where + words(" says; it was thrown away."),
                 ErrorKind::unreadable};
  if (transfer.notTaken) return Error{what + words(" cannot be written: is the disk full?")};
  if (code == CURLE_URL_MALFORMAT || code == CURLE_UNSUPPORTED_PROTOCOL)
    return Error{where + words(" is no address; one begins with http:// or https://."),
                 ErrorKind::unreadable};
  if (code == CURLE_OPERATION_TIMEDOUT && transfer.begun)
    return Error{where + words(" fell silent; what came of ") + what +
                 words(" is kept, and fetching goes on from there.")};
  if (code == CURLE_PARTIAL_FILE || code == CURLE_RECV_ERROR || code == CURLE_GOT_NOTHING)
    return Error{where + words(" broke off; what came of ") + what +
                 words(" is kept, and fetching goes on from there.")};
  if (code != CURLE_OK)
    return Error{where + words(" does not answer (") + curl_easy_strerror(code) +
                 words("); look at the address and the network.")};
  if (status / 100 == 3)
    return Error{where + words(" sends ") + what + words(" on to another address, which is not followed."),
                 ErrorKind::unreadable};
  if (status / 100 != 2)
    return Error{
        where + words(" does not give ") + what + words(" (it answers ") + std::to_string(status) + ").",
        ErrorKind::unreadable};
  if (transfer.from.bytes >= 0 && transfer.has < transfer.from.bytes)
    return Error{what + words(" is shorter than ") + where + words(" says; what came is kept."),
                 ErrorKind::unreadable};
  return done();
}

}  // namespace

Outcome download(const Remote& from, const fs::path& to, const Patience& patience, Progress& progress) {
  static std::once_flag once;
  std::call_once(once, [] { curl_global_init(CURL_GLOBAL_DEFAULT); });
  std::error_code ec;
  fs::create_directories(to.parent_path(), ec);
  const File file(std::fopen(to.c_str(), "ab"), &std::fclose);
  if (!file) return Error{to.string() + words(" cannot be written; look at its folder's rights.")};
  const Handle curl(curl_easy_init(), &curl_easy_cleanup);
  if (!curl) return Error{words("Nothing can be fetched: there is no memory left.")};
  Transfer transfer{from, curl.get(), file.get(), progress};
  const auto size = fs::file_size(to, ec);
  transfer.had = transfer.has = ec ? 0 : int64_t(size);
  if (from.bytes >= 0 && transfer.had == from.bytes) return done();
  configure(curl.get(), transfer, patience);
  const CURLcode code = curl_easy_perform(curl.get());
  long status = 0;
  curl_easy_getinfo(curl.get(), CURLINFO_RESPONSE_CODE, &status);
  if (std::fflush(file.get()) != 0) transfer.notTaken = true;
  const Outcome outcome = outcomeOf(code, status, transfer);
  // A beginning that the server cannot go on from is none of this file.
  if (transfer.tooLong || status == 416) fs::remove(to, ec);
  return outcome;
}

Result<std::string> sha256Of(const fs::path& file) {
  std::ifstream in(file, std::ios::binary);
  const std::unique_ptr<EVP_MD_CTX, decltype(&EVP_MD_CTX_free)> context(EVP_MD_CTX_new(), &EVP_MD_CTX_free);
  if (!in || !context || !EVP_DigestInit_ex(context.get(), EVP_sha256(), nullptr))
    return Error{file.string() + words(" cannot be read."), ErrorKind::unreadable};
  std::vector<char> block(1 << 16);
  while (in.read(block.data(), std::streamsize(block.size())) || in.gcount() > 0)
    EVP_DigestUpdate(context.get(), block.data(), size_t(in.gcount()));
  if (in.bad()) return Error{file.string() + words(" cannot be read."), ErrorKind::unreadable};
  unsigned char digest[EVP_MAX_MD_SIZE];
  unsigned size = 0;
  EVP_DigestFinal_ex(context.get(), digest, &size);
  std::string text;
  for (unsigned i = 0; i < size; ++i) {
    char two[3];
    std::snprintf(two, sizeof two, "%02x", digest[i]);
    text += two;
  }
  return text;
}

}  // namespace dusk
