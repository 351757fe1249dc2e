#!/bin/sh
# gather.sh TEMPLATE: what the code says to people, as a template for translators (GNU gettext).
set -eu
template=$(realpath -m "$1")
cd "$(dirname "$0")/../.."
find app core -name '*.cpp' -o -name '*.h' | LC_ALL=C sort | xgettext --files-from=- --language=C++ \
  --from-code=UTF-8 --keyword --keyword=words:1,1t --keyword=words:1,2,3t --keyword=marked:1 \
  --flag=words:1:no-c-format --flag=marked:1:no-c-format --add-location=file --no-wrap \
  --package-name='Gentle Dusk' --output="$template"
