# Everything is built the same way, tests too: what is compiled once is compiled for all.
# It has no C in it, and no paths of this machine; the race detector alone needs C.
export CGO_ENABLED = 0
export GOFLAGS = -trimpath

# The packages with goroutines are tested with the race detector too; the two that take longest
# with it alone, and in make soak without it and at full length.
# The standards are tried on the same host without it, and the screens with it in make soak.
ONCE = ./internal/host/alongside ./internal/host/x11
RACY = ./internal/keeper ./internal/host/alongside ./internal/host/display/... ./internal/host/sim ./internal/host/x11 ./internal/remote ./internal/status
# What drives the real program waits for it most of the time: several at once share the machine.
WAITING = ./cmd/zatlas

# Where it is installed; DESTDIR is put before all of it.
PREFIX ?= /usr/local
VERSION ?= $(shell git describe --tags --always --dirty 2>/dev/null || echo dev)
COMMIT ?= $(shell git rev-parse --short=12 HEAD 2>/dev/null)
BUILT = build
AT = $(DESTDIR)$(PREFIX)
SHARE = $(AT)/share

.PHONY: demo build docs check test package soak bench clients install uninstall dist

demo: ## show the demo desk in this terminal
	@echo "Building. The first time this takes a minute."
	@go run ./cmd/zatlas demo

build: ## build the program in this folder
	go build -ldflags "-s -w" ./cmd/zatlas

docs: ## write what the documentation has from the code: the table of verbs, the drawing of packages
	go run ./internal/house

check: ## what CI runs: formatting, the checks, the tests, the package
	@bad=$$(gofmt -l .); test -z "$$bad" || { echo "not formatted by gofmt: $$bad" >&2; exit 1; }
	go vet ./... && go vet -tags package,man ./cmd/zatlas
	go run honnef.co/go/tools/cmd/staticcheck@v0.8.2 ./...
	go mod tidy -diff
	$(MAKE) test
	$(MAKE) package

test: ## install what the tests need, and run them all
	@scripts/tools
	go test -timeout 40m $$(go list ./... | grep -vxF "$$(go list $(WAITING) $(ONCE))")
	go test -timeout 40m -parallel 4 $(WAITING)
	CGO_ENABLED=1 go test -timeout 40m -race -short $(RACY)

package: ## make the Debian package and try it in a clean root of Debian
	@scripts/package

soak: ## what takes longer: walks of other seeds, kills, and every fuzz target for a while
	@scripts/tools
	@scripts/vulnerabilities
	@scripts/soak

bench: ## print ratios to floors measured in the same run
	@scripts/tools
	go test -run '^$$' -bench . -benchtime 1x ./internal/bench/

clients: ## try programs of more toolkits, a browser and a video player, as far as they can be installed
	@scripts/tools
	@scripts/clients

$(BUILT)/zatlas: FORCE
	@mkdir -p $(BUILT)/man $(BUILT)/completion
	go build -ldflags "-s -w -X main.version=$(VERSION) -X main.commit=$(COMMIT)" -o $@ ./cmd/zatlas
	@rm -f $(BUILT)/man/*
	go build -tags man -o $(BUILT)/pages ./cmd/zatlas
	env -u XDG_CONFIG_HOME -u XDG_STATE_HOME HOME=/home $(BUILT)/pages man $(BUILT)/man
	@rm $(BUILT)/pages
	$@ completion bash > $(BUILT)/completion/zatlas
	$@ completion zsh > $(BUILT)/completion/_zatlas
	$@ completion fish > $(BUILT)/completion/zatlas.fish
	$@ config > $(BUILT)/settings.toml
FORCE:

install: $(BUILT)/zatlas ## install it, its manual pages, completions and entries (PREFIX, DESTDIR)
	install -Dm755 $(BUILT)/zatlas $(AT)/bin/zatlas
	install -Dm755 dist/zealous-atlas-session $(AT)/bin/zealous-atlas-session
	for page in $(BUILT)/man/*; do install -Dm644 $$page $(SHARE)/man/man$${page##*.}/$${page##*/}; done
	install -Dm644 $(BUILT)/completion/zatlas $(SHARE)/bash-completion/completions/zatlas
	install -Dm644 $(BUILT)/completion/_zatlas $(SHARE)/zsh/site-functions/_zatlas
	install -Dm644 $(BUILT)/completion/zatlas.fish $(SHARE)/fish/vendor_completions.d/zatlas.fish
	install -Dm644 dist/zealous-atlas-session.desktop $(SHARE)/xsessions/zealous-atlas.desktop
	install -Dm644 dist/zealous-atlas.desktop $(SHARE)/applications/zealous-atlas.desktop
	install -Dm644 dist/zealous-atlas.svg $(SHARE)/icons/hicolor/scalable/apps/zealous-atlas.svg
	sed 's|ExecStart=zatlas|ExecStart=$(PREFIX)/bin/zatlas|' dist/zealous-atlas.service > $(BUILT)/zealous-atlas.service
	install -Dm644 $(BUILT)/zealous-atlas.service $(AT)/lib/systemd/user/zealous-atlas.service
	install -Dm644 $(BUILT)/settings.toml $(SHARE)/doc/zealous-atlas/settings.toml
	install -Dm644 -t $(SHARE)/doc/zealous-atlas README.md CHANGELOG.md docs/GUIDE.md docs/REFERENCE.md docs/json.md docs/scene.schema.json docs/plate.schema.json

dist: ## static programs for amd64 and arm64 as tar.gz and .deb, with their sums, in build/dist
	@scripts/dist

uninstall: ## take away all that install has put there
	rm -f $(AT)/bin/zatlas $(AT)/bin/zealous-atlas-session $(SHARE)/man/man?/zatlas.[0-9] $(SHARE)/man/man?/zatlas-*.[0-9]
	rm -f $(SHARE)/bash-completion/completions/zatlas $(SHARE)/zsh/site-functions/_zatlas $(SHARE)/fish/vendor_completions.d/zatlas.fish
	rm -f $(SHARE)/xsessions/zealous-atlas.desktop $(SHARE)/applications/zealous-atlas.desktop $(SHARE)/icons/hicolor/scalable/apps/zealous-atlas.svg
	rm -f $(AT)/lib/systemd/user/zealous-atlas.service
	rm -rf $(SHARE)/doc/zealous-atlas
