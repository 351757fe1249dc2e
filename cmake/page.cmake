# One page of the guide as a web page: cmake -DCMARK=… -DIN=x.md -DOUT=x.html -P page.cmake
execute_process(COMMAND ${CMARK} -e table --smart ${IN} OUTPUT_VARIABLE body RESULT_VARIABLE failed)
if(failed)
  message(FATAL_ERROR "${IN} cannot be made a web page")
endif()
file(STRINGS ${IN} first LIMIT_COUNT 1)
string(REGEX REPLACE "^# *" "" title "${first}")
# Pages link to each other as web pages; the first is the folder's own.
string(REPLACE "README.md" "index.html" body "${body}")
string(REGEX REPLACE "href=\"([a-z-]+)\\.md" "href=\"\\1.html" body "${body}")
file(WRITE ${OUT} "<!DOCTYPE html>
<html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" content=\"width=device-width\">
<title>${title} – Gentle Dusk</title>
<style>
body { max-width: 46em; margin: 2em auto; padding: 0 1em; font: 16px/1.55 Lato, sans-serif; color: #2d2936; background: #fbf9fd; }
h1, h2 { font-weight: 600; line-height: 1.25 } h2 { margin-top: 2em } a { color: #1f6f7d }
img { max-width: 100%; border-radius: 6px } table { border-collapse: collapse; margin: 1em 0 }
td, th { border-bottom: 1px solid #d8d0e2; padding: .35em .7em; text-align: left; vertical-align: top }
pre, code { background: #efeaf4; border-radius: 4px } pre { padding: .7em; overflow-x: auto } code { padding: .1em .25em }
</style></head><body>
${body}
<p><a href=\"index.html\">All of the guide</a></p>
</body></html>
")
