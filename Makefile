# Damselfly. "make help" lists what there is to make.
SHELL := /bin/bash
.DEFAULT_GOAL := help
GO_SOURCES := $(shell find cmd client console demo internal -name '*.go' -o -name '*.sql' -o -path 'demo/marshpost/*' -o -path 'demo/weather/*' | grep -v node_modules)
CONSOLE_SOURCES := $(shell find console -not -path '*/node_modules*' -not -path '*/dist*' -type f -not -name '*.gen.ts' -not -path '*/swagger-ui*' -not -name '*.go' -not -name 'core.wasm*' -not -name wasm_exec.js)
say = @printf '\n== %s\n' "$(1)"

help: ## list what there is to make
	@grep -hE '^[a-z-]+:.*## ' $(MAKEFILE_LIST) | awk -F':.*## ' '{printf "  make %-10s %s\n", $$1, $$2}'

demo: setup bin/damselfly ## install what is missing, build, and run the service with Marsh Post
	@exec bin/damselfly demo

build: bin/damselfly ## build the console and the program into bin/

test: setup-test console/dist/index.html ## install what is missing, and run every check and test
	$(call say,Go: formatting and vet and staticcheck)
	@test -z "$$(gofmt -l $$(git ls-files '*.go'))" || { gofmt -d $$(git ls-files '*.go'); exit 1; }
	go vet ./...
	GOOS=js GOARCH=wasm go vet ./console/core
	go tool staticcheck ./...
	$(call say,Console: ESLint and TypeScript and Vitest)
	cd console && npm run --silent lint && npm run --silent test
	$(call say,Properties of the core over many generated runs)
	go test ./internal/core/table ./internal/core/steps -rapid.checks=2000 -rapid.seed=20261125
	go test ./internal/core/sight -rapid.checks=6000 -rapid.seed=20261125
	go test ./internal/core/sheet -count=1 -run 'TestTheGridIsGuessed$$' -v | grep 'sheets guessed right'
	$(call say,Go: everything with a real database and real sockets and a real browser)
	go test -count=1 ./...
	$(call say,Rooms under the race detector)
	go test -race ./internal/service/room

bench: setup bin/damselfly ## print the ratios of what is measured, one a line
	go run ./bench

soak: ## let the property tests of the core run for long, with other choices each time
	go test ./internal/core/table ./internal/core/sight ./internal/core/steps -rapid.checks=200000 -timeout 2h

fuzz: ## let each fuzz target run for a minute
	@for target in core/table:FuzzReadAction core/steps:FuzzRead core/sheet:FuzzRead core/sheet:FuzzReadList core/deck:FuzzReadCSV core/deck:FuzzReadSpreadsheet core/deck:FuzzDrawText core/kit:FuzzRead core/kit:FuzzOpenZip; do \
		echo "== $$target"; go test ./internal/$${target%%:*} -run '^$$' -fuzz "^$${target##*:}$$" -fuzztime 60s -fuzzminimizetime 10x || exit 1; done

describe: ## write docs/openapi.json anew from the code
	go run ./cmd/damselfly openapi > docs/openapi.json

draw: ## draw the demo's pictures anew
	go run ./demo/drawkit demo

clean: ## remove what was built; data of services stays
	rm -rf bin build console/node_modules console/dist console/src/api/schema.gen.ts console/public/docs/swagger-ui* console/public/core.wasm* console/public/wasm_exec.js
	mkdir -p console/dist && touch console/dist/.gitkeep

setup: # what running needs
	@tools/setup mariadb-server

setup-test: # what the tests need
	@tools/setup mariadb-server chromium

console/node_modules/.package-lock.json: console/package-lock.json
	$(call say,Fetching the console's packages)
	cd console && npm ci --no-audit --no-fund --loglevel=error

console/public/core.wasm.gz: go.mod go.sum $(shell find console/core internal/core -name '*.go' -not -name '*_test.go')
	$(call say,Building the core for the browser)
	GOOS=js GOARCH=wasm go build -trimpath -ldflags="-s -w" -o console/public/core.wasm ./console/core
	gzip -9nf console/public/core.wasm
	cp "$$(go env GOROOT)/lib/wasm/wasm_exec.js" console/public/wasm_exec.js

console/dist/index.html: console/node_modules/.package-lock.json console/public/core.wasm.gz docs/openapi.json $(CONSOLE_SOURCES)
	$(call say,Building the console)
	cd console && npm run --silent build

bin/damselfly: console/dist/index.html go.mod go.sum $(GO_SOURCES)
	$(call say,Building the program)
	go build -o $@ ./cmd/damselfly

.PHONY: help demo build test bench soak fuzz describe draw clean setup setup-test
