# make demo    builds everything and starts the application with the invented school
# make test    installs what the tests need and runs all of them
# make build   the binary, with the interface in it, at bin/meldung

UI := ui/node_modules/.package-lock.json
GO_FILES := $(shell find cmd core demo files held outside pages store web work -name '*.go' -o -name '*.sql' -o -name '*.yaml')
UI_FILES := $(shell find ui/src ui/public -type f) ui/index.html ui/vite.config.ts

.PHONY: demo test build types tools lint test-go test-ui test-e2e race bench screenshots clean

build: bin/meldung

demo: bin/meldung
	bin/meldung demo

bin/meldung: web/dist/index.html $(GO_FILES) go.mod go.sum
	go build -o $@ ./cmd/meldung

web/dist/index.html: $(UI) $(UI_FILES)
	find web/dist -mindepth 1 ! -name .keep -delete
	cd ui && npm run build
	touch $@

$(UI): ui/package-lock.json
	cd ui && npm ci
	touch $@

types: $(UI)
	cd ui && npm run types

# Debian's packages: the browser, and the programs that the results are held against.
REFEREES := chromium sqlite3 r-base-core r-cran-mass poppler-utils zbar-tools
tools:
	@dpkg -s $(REFEREES) >/dev/null 2>&1 || { apt-get update && DEBIAN_FRONTEND=noninteractive apt-get install -y --no-install-recommends $(REFEREES); }

# What reads the code and what tests the interface leave each other room; the others want the machine alone.
test: tools
	$(MAKE) -j2 --output-sync=target lint test-ui
	$(MAKE) test-go
	$(MAKE) test-e2e

lint: web/dist/index.html
	test -z "$$(gofmt -l cmd core demo e2e files held outside pages store web work)"
	go vet ./...
	go tool staticcheck ./...
	cd ui && npm run lint
	go run ./cmd/meldung openapi | ui/node_modules/.bin/openapi-typescript -o ui/node_modules/.schema.d.ts >/dev/null
	cmp ui/node_modules/.schema.d.ts ui/src/api/schema.d.ts || { echo "the interface's types are stale: make types"; exit 1; }

test-ui: $(UI)
	cd ui && npm test

# The invented school, built once for the tests that need one.
SCHOOL := bin/school/meldung.db
$(SCHOOL): $(GO_FILES) go.mod go.sum
	go run ./demo/demotest/school bin/school

test-go: web/dist/index.html $(SCHOOL)
	MELDUNG_TEST_SCHOOL=$(CURDIR)/bin/school go test -timeout 30m $$(go list ./... | grep -v /e2e)

test-e2e: bin/meldung
	go test -count=1 -parallel 3 -timeout 40m ./e2e

# The race detector over all packages; it needs a C compiler.
race: web/dist/index.html $(SCHOOL)
	MELDUNG_TEST_SCHOOL=$(CURDIR)/bin/school CGO_ENABLED=1 go test -race -timeout 60m $$(go list ./... | grep -v /e2e)

bench:
	go test -run "^$$$$" -bench . -benchmem ./core/... ./files/assess ./store

screenshots: bin/meldung
	go test -count=1 -tags screenshots -run TestScreenshots ./e2e

clean:
	rm -rf bin ui/node_modules
	find web/dist -mindepth 1 ! -name .keep -delete
