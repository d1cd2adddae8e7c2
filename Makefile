# make demo   install what is missing, build, and start the service with the demo's documents
# make test   install what is missing and check everything
# make build  build bin/jardinet with the console inside
# make deb    make a Debian package of it
# make cluster-test   try what several hosts do when something goes wrong

VERSION := $(shell git describe --tags --always --dirty 2>/dev/null || echo development)
LINK    := -s -w -X jardinet/cli.Version=$(VERSION)
SOURCES := $(shell find . -name '*.go' -not -path './web/node_modules/*') go.mod go.sum server/openapi.yaml $(wildcard demo/documents/* demo/*.csv demo/*.jsonl answer/*.json rank/*.json embed/*.model reader/*.model)
CONSOLE := $(shell find web/src web/public -type f -not -name schema.d.ts) web/index.html web/vite.config.ts web/package-lock.json server/openapi.yaml

.PHONY: demo stop build deb client compiled test check unit race console lint install install-test documents pictures cluster-test bench-quality bench-speed bench-layout trust layout-set clean

demo: build
	@scripts/install tesseract-ocr:tesseract || echo "Without tesseract-ocr, scanned pages have no text."
	@echo "== Starting the demo"
	@bin/jardinet demo --background

stop:
	@bin/jardinet demo --stop

build:
	@test -d web/node_modules || $(MAKE) --no-print-directory -j2 compiled web/node_modules/.installed
	@$(MAKE) --no-print-directory bin/jardinet

compiled:
	@echo "== Compiling"
	@CGO_ENABLED=0 go build -trimpath -o /dev/null ./cmd/jardinet

# Compiling takes longest on a fresh machine, so it goes on while the console's
# packages are fetched; the console itself is only linked in at the end.
bin/jardinet: $(SOURCES) web/dist/index.html
	@echo "== Building bin/jardinet"
	@CGO_ENABLED=0 go build -trimpath -ldflags '$(LINK)' -o $@ ./cmd/jardinet

# The command line alone, for machines that talk to a service elsewhere.
client:
	@CGO_ENABLED=0 go build -trimpath -tags client -ldflags '$(LINK)' -o bin/jardinet-client ./cmd/jardinet

deb: build
	@packaging/deb

web/node_modules/.installed: web/package-lock.json
	@echo "== Installing the console's packages"
	@cd web && npm install --no-save --no-audit --no-fund --loglevel=error
	@touch $@ web/node_modules/go.mod # which keeps Go out of there

web/dist/index.html: web/node_modules/.installed $(CONSOLE)
	@echo "== Building the console"
	@cd web && npm run --silent build -- --logLevel warn
	@touch web/dist/.keep $@

test: install-test build lint unit
	@echo "== All checks passed"

lint: web/node_modules/.installed
	@echo "== Checking the code"
	@test -z "$$(gofmt -l $$(git ls-files '*.go'))" || { gofmt -l $$(git ls-files '*.go'); echo "gofmt: the files above are not formatted"; exit 1; }
	@go vet ./...
	@go tool staticcheck ./...
	@cd web && npm run --silent types >/dev/null && npm run --silent lint

unit: build
	@echo "== Running the tests"
	@go test -timeout 12m ./...

# Faults of a cluster, on hosts in network namespaces of this machine, and seeded runs; some ten minutes.
cluster-test: build
	@scripts/install iproute2:ip
	@echo "== 200 seeded runs of three hosts"
	@bash -o pipefail -c 'JARDINET_SEEDS=200 go test -count=1 -parallel 6 -timeout 10m -run TestSeededRuns -v ./cluster | grep -v "^ *--- PASS\|^=== "'
	@echo "== Faults under load"
	@bash -o pipefail -c 'JARDINET_FAULTS=1 go test -count=1 -timeout 15m -v ./faults | grep --line-buffered -v "^ *--- PASS\|^=== "'

race:
	@go test -race -timeout 20m ./index ./service ./pdfium

# Debian packages that the tests drive: a browser, and pdftotext to compare with.
install-test:
	@scripts/install chromium:chromium poppler-utils:pdftotext fonts-liberation:- fonts-dejavu-core:- tesseract-ocr:tesseract

# Accuracy and speed on real manuals from Debian's packages; docs/benchmarks.md.
bench-quality: install-test build
	@go run ./bench/quality

bench-speed: install-test build
	@scripts/install sqlite3:sqlite3
	@go run ./bench/speed -sizes 10000,100000,1000000

# Tries to make the service lose something, stop, or take something damaged for whole;
# docs/reliability.md.
trust:
	@go run ./bench/trust

# Makes the labelled pages that layout is measured on anew, and measures.
bench-layout: install-test
	@go run ./bench/layout

layout-set: install-test
	@scripts/install groff:groff ghostscript:gs
	@go run ./bench/layout/generate

# Makes the demo's documents and questions anew.
documents: install-test
	@go run ./demo/generate

# Makes the pictures in docs/screenshots anew.
pictures: install-test build
	@go run ./tools/screenshots

clean:
	rm -rf bin web/dist/assets web/dist/*.html web/dist/*.svg web/node_modules demo-data
