# Damselfly. "make help" lists what there is to make.
SHELL := /bin/bash
.SHELLFLAGS := -o pipefail -c
.DEFAULT_GOAL := help
GO_SOURCES := $(shell find cmd client console demo internal -name '*.go' -o -name '*.sql' -o -path 'demo/marshpost/*' -o -path 'demo/weather/*' | grep -v node_modules)
CONSOLE_SOURCES := $(shell find console -not -path '*/node_modules*' -not -path '*/dist*' -type f -not -name 'schema.gen.ts' -not -path '*/swagger-ui*' -not -path '*/public/fonts/*' -not -path '*/public/client/*' -not -name '*.go' -not -name '*.wasm*' -not -name wasm_exec.js)
say = @printf '\n== %s\n' "$(1)"

help: ## list what there is to make
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | awk -F':.*## ' '{printf "  make %-11s %s\n", $$1, $$2}'

demo: setup bin/damselfly ## install what is missing, build, and run the service with Marsh Post
	@exec bin/damselfly demo

build: bin/damselfly ## build the console and the program into bin/

# What runs Go's tests: it says which packages passed, and notes how long each test took.
tests = go tool gotestsum --format pkgname-and-test-fails --hide-summary skipped --jsonfile-timing-events build/stages/$(1).json -- -count=1
# The same, with what the tests say of themselves.
tests-told = go tool gotestsum --format standard-verbose --hide-summary skipped --jsonfile-timing-events build/stages/$(1).json -- -count=1
seed = -rapid.seed=20261125
stage = @tools/stage

test: setup-test console/dist/index.html ## install what is missing, and run every check and test
	@tools/stage --begin
	$(stage) "Lint, types, Vitest, known vulnerabilities, descriptions of the API" $(together) vet vulnerabilities check-console apidocs
	$(stage) "Properties of the core over many generated runs, and sheets" $(together) test-learnt test-sheets test-sheets-of-others test-table test-sight test-linear
	$(stage) "Go: everything with a real database and real sockets" $(MAKE) --no-print-directory test-service
	$(stage) "Trials: the real program in a real browser" $(MAKE) --no-print-directory test-trial
	$(stage) "Rooms under the race detector" $(together) test-race-rooms test-race-api
	@tools/stage --summary

# What takes one core each goes together, and what each says stays together.
together = $(MAKE) --no-print-directory -j2 --output-sync=target

vet:
	@test -z "$$(gofmt -l $$(git ls-files '*.go'))" || { gofmt -d $$(git ls-files '*.go'); exit 1; }
	go vet ./...
	GOOS=js GOARCH=wasm go vet ./console/core ./console/spreadsheets ./console/bridge
	go tool staticcheck ./...

apidocs:
	cd console && npm run --silent apidocs

vulnerabilities:
	tools/vulnerabilities

test-table:
	@mkdir -p build/stages
	$(call tests,core) ./internal/core/table/... ./internal/core/steps -rapid.checks=2000 $(seed)

test-sight:
	@mkdir -p build/stages
	$(call tests,sight) ./internal/core/sight -skip TestNothingIsLearnt -rapid.checks=6000 $(seed)

test-linear:
	@mkdir -p build/stages
	$(call tests,linear) ./internal/trial/linear

test-learnt:
	@mkdir -p build/stages
	$(call tests-told,learnt) ./internal/core/sight -run TestNothingIsLearnt -rapid.checks=30000 $(seed) -timeout 30m | grep -v '^=== '

test-sheets:
	@mkdir -p build/stages
	$(call tests-told,sheets) ./internal/core/sheet/... | grep -E 'sheets guessed right|right and sure|^ok|FAIL|_test.go.*Error|^DONE'

test-sheets-of-others:
	@mkdir -p build/stages
	$(call tests-told,sheets-of-others) -timeout 30m ./internal/trial/sheets | grep -E 'others made|others: part|^ok|FAIL|_test.go.*Error|^DONE'

sheets-of-others: setup-test ## read 1,080 sheets that browsers and ImageMagick draw, kept in build/sheets; say what came of each style, and what four fifths of them teach for the last
	DAMSELFLY_SHEETS=$(CURDIR)/build/sheets DAMSELFLY_EACH=18 DAMSELFLY_LEARN=1 go test -count=1 -v -timeout 60m ./internal/trial/sheets

test-service:
	@mkdir -p build/stages
	$(call tests,service) -timeout 30m $$(go list ./... | grep -v -e internal/trial -e core/table -e core/steps -e core/sight -e core/sheet)

test-trial:
	@mkdir -p build/stages
	$(call tests,trial) -timeout 30m -parallel 3 ./internal/trial

test-race-rooms:
	@mkdir -p build/stages
	DAMSELFLY_ACTS=3000 $(call tests,race-rooms) -race -timeout 30m ./internal/service/room ./client

test-race-api:
	@mkdir -p build/stages
	$(call tests,race-api) -race -timeout 30m ./internal/service/api -run 'Socket|Ping|Waiting|HandedOn' -skip 'TheBytes' -rapid.checks=5

check: console/node_modules/.package-lock.json console/dist/index.html ## what is quick, for work in hand: format, vet, lint, unit tests, small properties
	@$(MAKE) --no-print-directory -j2 check-go check-console

check-go: vet
	go test ./client ./internal/cli ./internal/describe ./internal/core/chance ./internal/core/grid ./internal/core/play
	go test ./internal/core/table/... ./internal/core/steps ./internal/core/sight -rapid.checks=60

check-console:
	cd console && npm run --silent lint && npm run --silent test

bench: setup bin/damselfly ## print the ratios of what is measured, one a line
	go run ./bench

bench-quick: setup bin/damselfly ## those of the path of an action
	go run ./bench quick

soak: ## let the property tests of the core run for long, with other choices each time
	go test ./internal/core/table ./internal/core/sight ./internal/core/steps -rapid.checks=200000 -timeout 2h

fuzz: ## let each fuzz target run for a minute
	@for target in core/table:FuzzReadAction core/steps:FuzzRead core/sheet:FuzzRead core/sheet:FuzzReadList core/deck:FuzzReadCSV core/deck:FuzzReadSpreadsheet core/deck:FuzzDrawText core/deck:FuzzReadSVG core/deck:FuzzFont core/kit:FuzzRead core/kit:FuzzOpenZip; do \
		echo "== $$target"; go test ./internal/$${target%%:*} -run '^$$' -fuzz "^$${target##*:}$$" -fuzztime 60s -fuzzminimizetime 10x || exit 1; done

describe: ## write anew what follows from the code: docs/openapi.json, the client's and the console's tables
	go run ./internal/describe

draw: ## draw the demo's pictures anew
	go run ./demo/drawkit demo

clean: ## remove what was built; data of services stays
	rm -rf bin build console/node_modules console/dist console/client/src/schema.gen.ts console/public/docs/swagger-ui* console/public/fonts console/public/client console/client/dist console/public/*.wasm* console/public/wasm_exec.js
	mkdir -p console/dist && touch console/dist/.gitkeep

setup: # what running needs
	@tools/setup mariadb-server

setup-test: # what the tests need
	@tools/setup mariadb-server chromium curl imagemagick

console/node_modules/.package-lock.json: console/package-lock.json
	$(call say,Fetching the console's packages)
	cd console && npm ci --no-audit --no-fund --loglevel=error

console/public/core.wasm.gz: go.mod go.sum $(shell find console/core console/bridge internal/core -name '*.go' -not -name '*_test.go')
	$(call say,Building the core for the browser)
	GOOS=js GOARCH=wasm go build -trimpath -ldflags="-s -w" -o console/public/core.wasm ./console/core
	gzip -9nf console/public/core.wasm
	cp "$$(go env GOROOT)/lib/wasm/wasm_exec.js" console/public/wasm_exec.js

console/public/spreadsheets.wasm.gz: go.mod go.sum $(shell find console/spreadsheets console/bridge internal/core/spreadsheet internal/core/deck -name '*.go' -not -name '*_test.go')
	$(call say,Building what reads spreadsheets in the browser)
	GOOS=js GOARCH=wasm go build -trimpath -ldflags="-s -w" -o console/public/spreadsheets.wasm ./console/spreadsheets
	gzip -9nf console/public/spreadsheets.wasm

console/dist/index.html: console/node_modules/.package-lock.json console/public/core.wasm.gz console/public/spreadsheets.wasm.gz docs/openapi.json $(CONSOLE_SOURCES)
	$(call say,Building the console)
	cd console && npm run --silent build

bin/damselfly: console/dist/index.html go.mod go.sum $(GO_SOURCES)
	$(call say,Building the program)
	go build -buildvcs=auto -o $@ ./cmd/damselfly

.PHONY: help demo build test vet apidocs vulnerabilities test-table test-sight test-linear test-learnt test-sheets test-sheets-of-others sheets-of-others test-service test-trial test-race-rooms test-race-api check check-go check-console bench bench-quick soak fuzz describe draw clean setup setup-test
