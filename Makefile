# The packages with goroutines are tested with the race detector too.
RACY = ./internal/keeper/... ./internal/host/... ./internal/remote/... ./internal/tui/...
# What drives the real program by real keys has the machine to itself: a person does not type
# while two cores do four things.
TIMED = ./cmd/zatlas

.PHONY: demo build docs test soak bench clients

demo: ## show the demo desk in this terminal
	@echo "Building. The first time this takes a minute."
	@go run ./cmd/zatlas demo

build: ## build the program in this folder
	go build ./cmd/zatlas

docs: ## write what the documentation has from the code: the table of verbs, the drawing of packages
	go run ./internal/house

test: ## install what the tests need, and run them all
	@scripts/tools
	go test $$(go list ./... | grep -v '^zatlas/cmd/zatlas$$')
	go test $(TIMED)
	go test -race -short $(RACY)

soak: ## what takes longer: walks of other seeds, kills, and every fuzz target for a while
	@scripts/tools
	@scripts/soak

bench: ## print ratios to floors measured in the same run
	@scripts/tools
	go test -run '^$$' -bench . -benchtime 1x ./internal/bench/

clients: ## try programs of more toolkits, a browser and a video player, as far as they can be installed
	@scripts/tools
	@scripts/clients
