#include "core/base/words.h"
#include "core/deliver/proof_sheet.h"

namespace dusk {
namespace {

std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : text) {
    if (c == '&')
      out += "&amp;";
    else if (c == '<')
      out += "&lt;";
    else if (c == '>')
      out += "&gt;";
    else if (c == '"')
      out += "&quot;";
    else
      out += c;
  }
  return out;
}

/// RFC 4648, section 4.
std::string base64(const std::string& bytes) {
  constexpr char digits[] = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
  std::string out;
  out.reserve(bytes.size() * 4 / 3 + 4);
  for (size_t i = 0; i < bytes.size(); i += 3) {
    uint32_t v = 0;
    const size_t n = std::min<size_t>(3, bytes.size() - i);
    for (size_t k = 0; k < 3; ++k) v = v << 8 | (k < n ? uint32_t((unsigned char)bytes[i + k]) : 0u);
    for (size_t k = 0; k < 4; ++k) out += k <= n ? digits[v >> (18 - 6 * k) & 63] : '=';
  }
  return out;
}

std::string plain(double v) {
  char text[32];
  std::snprintf(text, sizeof text, std::abs(v) >= 100 ? "%.0f" : "%.2f", v);
  std::string s = text;
  if (s.find('.') != std::string::npos) {
    while (s.back() == '0') s.pop_back();
    if (s.back() == '.') s.pop_back();
  }
  return s == "-0" ? "0" : withDecimalMark(s);
}

constexpr const char* style = R"(
:root { color-scheme: light; --ink: #2d2936; --soft: #6a6275; --line: #d9d4e0; --off: #a3344c; --ok: #3d6b2c; }
* { box-sizing: border-box; }
body { margin: 0; font: 15px/1.45 Lato, "Segoe UI", sans-serif; color: var(--ink); background: #f5f3f7; }
main { max-width: 1240px; margin: 0 auto; padding: 24px; }
h1 { font-size: 24px; font-weight: 600; margin: 0 0 4px; } h2 { font-size: 16px; margin: 28px 0 8px; }
.sub { color: var(--soft); margin: 0 0 16px; }
#frame { position: relative; overflow: auto; background: #777; border-radius: 6px; touch-action: none; }
#stage { position: relative; width: 100%; cursor: ew-resize; user-select: none; }
#stage.real { width: var(--real); }
#stage img { display: block; width: 100%; pointer-events: none; }
#before { position: absolute; inset: 0; clip-path: inset(0 calc(100% - var(--at, 50%)) 0 0); }
#line { position: absolute; top: 0; bottom: 0; left: var(--at, 50%); width: 2px; margin-left: -1px; background: #fff; box-shadow: 0 0 0 1px #0006; }
#line::after { content: ""; position: absolute; top: 50%; left: -11px; width: 24px; height: 24px; margin-top: -12px; border-radius: 12px; background: #fff; box-shadow: 0 0 0 1px #0006; }
.tag { position: absolute; bottom: 10px; padding: 2px 8px; border-radius: 4px; background: #2d2936cc; color: #fff; font-size: 13px; }
#tagBefore { left: 10px; } #tagAfter { right: 10px; }
.tools { display: flex; gap: 12px; align-items: center; margin: 10px 0 0; }
button { font: inherit; padding: 5px 14px; border: 1px solid var(--line); border-radius: 5px; background: #fff; color: var(--ink); cursor: pointer; }
button[aria-pressed=true] { border-color: #b96a1f; background: #fdf1e2; }
:focus-visible { outline: 2px solid #b96a1f; outline-offset: 2px; }
input[type=range] { flex: 1; accent-color: #b96a1f; }
table { width: 100%; border-collapse: collapse; background: #fff; border-radius: 6px; overflow: hidden; }
td, th { text-align: left; vertical-align: top; padding: 7px 12px; border-top: 1px solid var(--line); }
tr:first-child > * { border-top: 0; } th { font-weight: 600; width: 22%; }
.off b { color: var(--off); } .ok b { color: var(--ok); } td.n { white-space: nowrap; color: var(--soft); }
@media print { body { background: #fff; } .tools, #line, .tag { display: none; } main { padding: 0; } #before { display: none; } tr { break-inside: avoid; } }
)";

constexpr const char* script = R"(
const stage = document.getElementById('stage'), slider = document.getElementById('slider'), real = document.getElementById('real');
const put = v => { v = Math.max(0, Math.min(100, v)); stage.style.setProperty('--at', v + '%'); slider.value = v; };
const at = e => { const r = stage.getBoundingClientRect(); put(100 * (e.clientX - r.left) / r.width); };
stage.addEventListener('pointerdown', e => { stage.setPointerCapture(e.pointerId); at(e); });
stage.addEventListener('pointermove', e => { if (e.buttons) at(e); });
slider.addEventListener('input', () => put(+slider.value));
real.addEventListener('click', () => { const on = stage.classList.toggle('real'); real.setAttribute('aria-pressed', on); });
put(50);
document.documentElement.dataset.ready = 'yes';
)";

std::string findingRow(const Finding& f) {
  std::string row = std::string("<tr class=\"") + (f.ok() ? "ok" : "off") + "\"><th><b>" +
                    (f.ok() ? "✓ " : "✗ ") + (f.ok() ? words("holds") : words("off")) + "</b></th><td>" +
                    escaped(f.what);
  if (!f.ok()) {
    if (!f.says.empty()) row += "<br><i>“" + escaped(f.says) + "”</i>";
    row += "<br>" + escaped(f.remedy);
  }
  return row + "</td><td class=\"n\">" + escaped(numbersOf(f)) + "</td></tr>\n";
}

std::string heading(const char* text) { return "<h2>" + escaped(text) + "</h2>"; }

std::string image(const char* id, const char* alt, const std::string& jpeg) {
  return std::string("<img id=\"") + id + "\" alt=\"" + escaped(alt) + "\" src=\"data:image/jpeg;base64," +
         base64(jpeg) + "\">";
}

std::string tag(const char* id, const char* text) {
  return std::string("<span class=\"tag\" id=\"") + id + "\">" + escaped(text) + "</span>";
}

/// The picture with and without the product, one over the other, with what moves the line between them.
std::string comparison(const ProofSheet& sheet) {
  return "<div id=\"frame\"><div id=\"stage\" style=\"--real: " + std::to_string(sheet.width) + "px\">" +
         image("after", words("The picture with the product"), sheet.after) +
         image("before", words("The place without the product"), sheet.before) + "<div id=\"line\"></div>" +
         tag("tagBefore", words("without")) + tag("tagAfter", words("with the product")) +
         "</div></div>\n<div class=\"tools\"><input id=\"slider\" type=\"range\" min=\"0\" max=\"100\" "
         "step=\"1\" value=\"50\" aria-label=\"" +
         escaped(words("How much is shown without the product")) +
         "\"><button id=\"real\" aria-pressed=\"false\">" + escaped(words("One pixel for one")) +
         "</button></div>\n";
}

}  // namespace

std::string numbersOf(const Finding& f) {
  constexpr double open = 1e6;  // bounds that are none
  const std::string unit = f.unit.empty() ? "" : " " + f.unit;
  std::string bounds =
      f.high >= open ? words("at least ") + plain(f.low) : plain(f.low) + words(" to ") + plain(f.high);
  if (f.low == f.high) bounds = plain(f.low);
  return plain(f.value) + unit + " (" + bounds + ")";
}

std::string proofPage(const ProofSheet& sheet) {
  const auto offs = std::count_if(sheet.told.findings.begin(), sheet.told.findings.end(),
                                  [](const Finding& f) { return !f.ok(); });
  std::string page =
      std::string("<!doctype html>\n<html lang=\"") + words("en") /* the tag of the language they are in */ +
      "\"><head><meta charset=\"utf-8\">\n"
      "<meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\n"
      "<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; img-src data:; style-src "
      "'unsafe-inline'; script-src 'unsafe-inline'\">\n<title>" +
      escaped(sheet.title) + "</title><style>" + style + "</style></head>\n<body><main><h1>" +
      escaped(sheet.title) + "</h1><p class=\"sub\">" + std::to_string(sheet.told.findings.size()) +
      words(" checks, ") + (offs == 0 ? words("all hold") : std::to_string(offs) + " " + words("off")) +
      "</p>\n";
  page += comparison(sheet);
  page += heading(words("Proofs")) + "<table id=\"findings\">\n";
  for (const bool ok : {false, true})
    for (const Finding& f : sheet.told.findings)
      if (f.ok() == ok) page += findingRow(f);
  page += "</table>\n" + heading(words("Files")) + "<table>\n";
  for (const std::string& file : sheet.told.files) page += "<tr><td>" + escaped(file) + "</td></tr>\n";
  page += "</table>\n" + heading(words("Settings")) + "<table>\n";
  for (const auto& [name, value] : sheet.told.settings)
    page += "<tr><th>" + escaped(name) + "</th><td>" + escaped(value) + "</td></tr>\n";
  return page + "</table></main><script>" + script + "</script></body></html>\n";
}

}  // namespace dusk
