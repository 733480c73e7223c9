#!/bin/sh
# Copies styles, scripts and fonts from their packages. Needs npm, and
# woff2_decompress (Debian package woff2) for the report's fonts.
set -eu
cd "$(dirname "$0")"
npm ci --no-audit --no-fund
npx sass --no-source-map --style=compressed --load-path=node_modules bulma.scss ../static/bulma.css
cp node_modules/htmx.org/dist/htmx.min.js ../static/htmx.js
cp node_modules/jsqr/dist/jsQR.js ../static/jsqr.js
npx esbuild turn.js --bundle --minify --format=esm --legal-comments=none --outfile=../static/turn.js
for w in 500 600 700; do
  cp "node_modules/@fontsource/barlow-semi-condensed/files/barlow-semi-condensed-latin-$w-normal.woff2" "../static/barlow-$w.woff2"
done
for w in 500 700; do
  cp "../static/barlow-$w.woff2" "/tmp/barlow-$w.woff2"
  woff2_decompress "/tmp/barlow-$w.woff2"
  mv "/tmp/barlow-$w.ttf" ../../../report/fonts/
  rm "/tmp/barlow-$w.woff2"
done
cp node_modules/@fontsource/barlow-semi-condensed/LICENSE ../../../notices/shipped/barlow.txt
cp node_modules/htmx.org/LICENSE ../../../notices/shipped/htmx.txt
cp node_modules/jsqr/LICENSE ../../../notices/shipped/jsqr.txt
cp node_modules/three/LICENSE ../../../notices/shipped/three.txt
cp node_modules/bulma/LICENSE ../../../notices/shipped/bulma.txt
