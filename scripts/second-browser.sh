#!/usr/bin/env bash
# All five steps once in Debian's other browser, under a screen in memory: npm run second-browser. Not part of ./check.
set -euo pipefail
cd "$(dirname "$0")/.."
. scripts/prepare.sh
need_node
need_debian mariadbd mariadb-server ffmpeg ffmpeg firefox-esr firefox-esr Xvfb xvfb
need_packages
need_builds
exec npx tsx e2e/second-browser.ts
