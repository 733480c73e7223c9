# make demo runs the invented shop; make test proves everything. Both install
# what they need.
CHROMIUM := /usr/bin/chromium-headless-shell
DEMO_ADDR ?= 127.0.0.1:8460

.PHONY: release demo test race script-test go-test browser-test lint bench fuzz mutate notices study pictures build static solids acts

demo: build
	./bin/lugtak demo --addr $(DEMO_ADDR)

build:
	@test -x bin/lugtak || echo "Building Lugtak: the first time takes some minutes."
	go build -buildvcs=auto -o bin/lugtak ./cmd/lugtak

test: lint script-test go-test browser-test

WEB := pages/kit/static/kit.css $(wildcard pages/*/*.css)
JS := pages/kit/assets/turn.js $(filter-out pages/kit/static/htmx.js pages/kit/static/jsqr.js pages/kit/static/turn.js,$(wildcard pages/kit/static/*.js))
TOOLS := e2e/node_modules/.bin

lint: e2e/node_modules/.package-lock.json
	@out=$$(gofmt -l $$(git ls-files '*.go')); test -z "$$out" || { echo "not gofmt-ed: $$out"; exit 1; }
	@! git ls-files '*.go' '*.mjs' '*.html' '*.yaml' '*.css' $(JS) | grep -v '/bulma.css' | \
	  LC_ALL=C.UTF-8 xargs grep -nE '^.{121}' || { echo "longer than 120 characters"; exit 1; }
	go vet ./...
	go tool staticcheck ./...
	$(TOOLS)/prettier --check $(WEB) $(JS) "e2e/*.mjs" "solid/model/*.mjs" "*.md" "docs/*.md"
	$(TOOLS)/stylelint -c e2e/stylelint.config.mjs $(WEB)
	$(TOOLS)/eslint -c e2e/eslint.config.mjs $(JS) e2e solid/model
	go run ./cmd/lugtak schema openapi | node e2e/openapi.mjs

# Memory is not short here: the collector need not work for it.
go-test browser-test: export GOGC = 400
go-test:
	go test -timeout 12m ./...

# Where several hands are at one thing, under the race detector, which needs a C compiler and
# makes tests five to ten times as slow: what is reckoned by one hand runs plain, above.
race:
	go test -race -timeout 15m ./core/claim ./web/kit ./web/hooks
	go test -race -timeout 15m -run 'AtOnce|Beside|While|Guess|Session|TheLastForeman|Owner|CutShort|Rotate|Lists' ./store
	go test -race -timeout 15m -run 'Presence|Stream|Route|Tool|Pull|Looking' ./web
	go test -race -timeout 15m -run 'RackPulls|StreamsAndEnds|LetsGo' ./device/sim

# The scripts' own arithmetic and words, without a browser.
script-test: e2e/node_modules/.package-lock.json
	node --test e2e/unit

browser-test: $(CHROMIUM) e2e/node_modules/.package-lock.json
	cd e2e && npx playwright test

$(CHROMIUM):
	apt-get update
	apt-get install -y --no-install-recommends chromium-headless-shell

e2e/node_modules/.package-lock.json: e2e/package-lock.json
	cd e2e && npm ci --no-audit --no-fund

# Ratios against a plain baseline in the same run.
bench: build
	go test -run '^$$' -bench . -benchtime 2s ./core/... ./solid/ ./demo/ ./web/

# A search, for whoever changed a reader: it finds another thing each time, so it gates nothing.
# What it finds becomes a seed, which make test tries. A count has no deadline to trip over;
# slower readers run as many times less often.
FUZZTIME ?= 3000000x
FUZZSLOW ?= 30000x
FUZZ := go test -run '^$$'
fuzz:
	$(FUZZ) -fuzz FuzzParse -fuzztime $(FUZZTIME) ./core/recipe
	$(FUZZ) -fuzz FuzzPaste -fuzztime $(FUZZTIME) ./core/recipe
	$(FUZZ) -fuzz FuzzReadCSV -fuzztime $(FUZZTIME) ./core/pull
	$(FUZZ) -fuzz FuzzReadSheet -fuzztime $(FUZZTIME) ./core/inspect
	$(FUZZ) -fuzz FuzzReadOwn -fuzztime $(FUZZTIME) ./solid
	$(FUZZ) -fuzz FuzzReadJobFile -fuzztime $(FUZZSLOW) ./store
	$(FUZZ) -fuzz FuzzRead -fuzztime $(FUZZSLOW) ./intake
	$(FUZZ) -fuzz FuzzBody -fuzztime $(FUZZSLOW) ./web/api
	$(FUZZ) -fuzz FuzzTake -fuzztime $(FUZZSLOW) ./library

# Mutants of what decides something that no test kills, and their share: a package a time, or all, in a night.
DECIDES := $(addprefix core/,fact record recipe pull release job claim forecast brake inspect wrench part vehicle \
  thread diagnose plan schedule practice) report intake store shop chain
mutate:
	for p in $(or $(PACKAGE),$(DECIDES)); do \
	  GOFLAGS=-vet=off go run github.com/go-gremlins/gremlins/cmd/gremlins@v0.6.0 unleash ./$$p \
	    --workers 2 --timeout-coefficient 6 || exit 1; \
	done

# A release for all platforms, with checksums, packages and a bill of materials: the same commit, the same bytes.
release:
	packaging/release.sh

# The licences of what is linked and shipped.
notices:
	cd notices && go run make.go

# The studies in docs, taken anew.
study:
	go test ./device/sim -run TestStudy -count 1 -timeout 60m -args -write $(CURDIR)/docs/STUDY-PULLS.md
	go test ./core/pull -run TestSecondWorld -count 1 -timeout 60m -args -write $(CURDIR)/docs/STUDY-PULLS-2.md
	go test ./core/release -run TestStudy -count 1 -timeout 60m -args -write $(CURDIR)/docs/STUDY-RELEASE.md
	go test ./core/diagnose -run TestStudy -count 1 -timeout 60m -args -write $(CURDIR)/docs/STUDY-DIAGNOSIS.md

# The pictures in docs, of a demo shop of their own.
pictures: build $(CHROMIUM) e2e/node_modules/.package-lock.json
	cd e2e && node screens.mjs

# The solids of pictures, modelled in npm's @jscad/modeling and committed as glTF.
solids:
	cd solid/model && npm ci --no-audit --no-fund && node build.mjs

# All scenes without words, and the key beside them, for somebody to read blind.
acts:
	go run ./solid/sheet bin/acts
	@echo "bin/acts/acts.html, and bin/acts/key.html beside it"

# Styles and scripts that npm ships, built into pages/kit/static and committed.
static:
	cd pages/kit/assets && npm ci --no-audit --no-fund && ./build.sh
