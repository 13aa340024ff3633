# The front door. On a bare Debian 12 with git and make, `make demo` and `make test` install what is missing, build
# and run.

JOBS   ?= $(shell nproc)
SOURCES = $(shell git ls-files '*.cpp' '*.hpp')

.PHONY: help build demo test test-clang bench format lint screenshots clean

help:
	@echo "make demo         play, draw and check the harbour, and open it for play mode (ONCE=1: without the last)"
	@echo "make test         build everything with tests, and run them"
	@echo "make build        the optimised tool, at build/hushed"
	@echo "make bench        each kind, whole frames and flocks against the same by hand; loading against the parser alone"
	@echo "make test-clang   the same tests built with clang and its sanitizers"
	@echo "make format lint screenshots clean"

build:
	@scripts/install-packages.sh build
	cmake --preset release
	cmake --build --preset release -j $(JOBS)
	@cp -f build/release/src/cli/hushed build/hushed

demo: build
	@scripts/demo.sh $(if $(ONCE)$(CI),--once)

test:
	@scripts/install-packages.sh build test
	cmake --preset dev
	cmake --build --preset dev -j $(JOBS)
	ctest --preset dev -j $(JOBS)

test-clang:
	@scripts/install-packages.sh build test
	cmake --preset clang
	cmake --build --preset clang -j $(JOBS)
	ctest --preset clang -j $(JOBS)

bench:
	@scripts/install-packages.sh build test
	cmake --preset release -DHUSHED_BENCH=ON
	cmake --build --preset release -j $(JOBS)
	build/release/bench/bench_kinds
	build/release/bench/bench_frames
	build/release/bench/bench_flocks
	build/release/bench/bench_loading

format:
	@scripts/install-packages.sh lint
	clang-format -i $(SOURCES)

lint:
	@scripts/install-packages.sh build test lint
	@clang-format --dry-run --Werror $(SOURCES)
	cmake --preset clang -DCMAKE_EXPORT_COMPILE_COMMANDS=ON
	git ls-files 'src/*.cpp' | xargs -P $(JOBS) -n 4 clang-tidy -p build/clang --quiet

screenshots: build
	@scripts/install-packages.sh screenshots
	scripts/screenshots.sh

clean:
	rm -rf build
