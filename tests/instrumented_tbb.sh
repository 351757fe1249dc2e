#!/bin/sh
# Builds the task library of this Debian for the thread sanitizer, which sees races where there are none while
# that library's own hand-overs are hidden from it. Prints the folder for LD_LIBRARY_PATH.
#   ./instrumented_tbb.sh FOLDER
set -eu
mkdir -p "$1"
cd "$1"
lib=$PWD/built/lib_relwithdebinfo
if [ ! -e "$lib/libtbb.so" ]; then
  release=$(. /etc/os-release && echo "$VERSION_CODENAME")
  echo "deb-src http://deb.debian.org/debian $release main" >sources.list
  mkdir -p lists
  from="-o Dir::Etc::sourcelist=$PWD/sources.list -o Dir::Etc::sourceparts=/dev/null -o Dir::State::lists=$PWD/lists"
  apt-get $from update -qq >&2
  apt-get $from source --download-only -qq onetbb >&2
  mkdir -p source
  tar xf onetbb_*.orig.tar.* -C source --strip-components=1
  cmake -S source -B built -G Ninja -DCMAKE_BUILD_TYPE=RelWithDebInfo -DTBB_TEST=OFF -DTBB_STRICT=OFF \
    -DTBB_SANITIZE=thread -DTBB_OUTPUT_DIR_BASE=lib >&2
  cmake --build built >&2
fi
echo "$lib"
