#!/bin/sh
# Builds a release into bin/release: static programs with their checksums, what others have made in them as text and as
# CycloneDX, Debian packages. The same commit gives the same bytes: nothing in them says when or where they were built.
set -eu
cd "$(dirname "$0")/.."
[ -z "$(git status --porcelain)" ] || { echo "the tree is not as it was committed: commit first" >&2; exit 1; }
VERSION=$(sed -n 's/^const release = "\(.*\)"$/\1/p' cmd/lugtak/version.go)
SOURCE_DATE_EPOCH=$(git log -1 --format=%ct)
MTIME=$(date -u -d "@$SOURCE_DATE_EPOCH" +%Y-%m-%dT%H:%M:%SZ)
export VERSION SOURCE_DATE_EPOCH MTIME CGO_ENABLED=0
PLATFORMS=${PLATFORMS:-linux/amd64 linux/arm64 windows/amd64 darwin/amd64 darwin/arm64}
out=bin/release
rm -rf "$out"
mkdir -p "$out"
for p in $PLATFORMS; do
  os=${p%/*} ARCH=${p#*/}
  PROGRAM=$out/lugtak-$VERSION-$os-$ARCH
  [ "$os" != windows ] || PROGRAM=$PROGRAM.exe
  export ARCH PROGRAM
  echo "$PROGRAM"
  GOOS=$os GOARCH=$ARCH go build -trimpath -buildvcs=true -ldflags='-s -w -buildid=' -o "$PROGRAM" ./cmd/lugtak
  [ "$os" != linux ] || go run github.com/goreleaser/nfpm/v2/cmd/nfpm@v2.43.0 package --config packaging/nfpm.yaml \
    --packager deb --target "$out/lugtak_${VERSION}_$ARCH.deb"
done
cp notices/THIRD-PARTY.txt "$out/"
go run github.com/CycloneDX/cyclonedx-gomod/cmd/cyclonedx-gomod@v1.9.0 app -json -std -noserial -licenses \
  -main cmd/lugtak -output "$out/lugtak-$VERSION.cdx.json" .
# The one line of it that says when it was made says when the commit was.
sed -i "s/\"timestamp\": \"[^\"]*\"/\"timestamp\": \"$MTIME\"/" "$out/lugtak-$VERSION.cdx.json"
(cd "$out" && sha256sum -- * >SHA256SUMS)
