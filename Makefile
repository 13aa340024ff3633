# SPDX-License-Identifier: MIT
# The front door. On a bare Debian 12 with git and make, `make demo` and `make test` install what is missing, build
# and run.

JOBS   ?= $(shell nproc)
SOURCES = $(shell git ls-files '*.cpp' '*.hpp')

.PHONY: help build demo test test-clang test-threads same-bits fuzz bench coverage docs docs-parts messages counts window packages try-packages format style lint screenshots clean

help:
	@echo "make demo         play, draw and check the harbour, and open it for play mode (ONCE=1: without the last)"
	@echo "make test         build everything with tests, and run them"
	@echo "make build        the optimised tool, at build/hushed"
	@echo "make bench        each kind, whole frames and flocks against the same by hand; loading against the parser alone"
	@echo "make test-clang   the same tests built with clang and its sanitizers"
	@echo "make test-threads what runs on several threads, built with the thread sanitizer"
	@echo "make same-bits    both compilers, not optimised and optimised, give the same bits; the tests check other levels"
	@echo "make fuzz         random input to everything that is read, SECONDS_EACH=20 for each sort"
	@echo "make coverage     which lines the tests run: build/coverage/index.html"
	@echo "make docs         the documentation as HTML: build/docs/index.html"
	@echo "make counts       instructions per object and frame of each kind, compared with those of before"
	@echo "make messages     collects all error messages in tests/messages.txt"
	@echo "make window       the demo harbour in a window, drawn by OpenGL as an engine does"
	@echo "make packages     Debian packages in build/packages; make try-packages installs them in a new Debian"
	@echo "make format lint screenshots clean"

build:
	@scripts/install-packages.sh build
	cmake --preset release
	cmake --build --preset release -j $(JOBS)
	@cp -f build/release/src/cli/hushed build/hushed

demo: build
	@scripts/demo.sh $(if $(ONCE)$(CI),--once)

# One test more than there are cores: those in a browser spend half of their time waiting.
test:
	@scripts/install-packages.sh build test
	cmake --preset dev
	cmake --build --preset dev -j $(JOBS)
	ctest --preset dev -j $(shell expr $(JOBS) + 1)

test-clang:
	@scripts/install-packages.sh build test
	cmake --preset clang
	cmake --build --preset clang -j $(JOBS)
	ctest --preset clang -j $(JOBS)

# What the thread sanitizer is not to report.
KNOWN_RACES = suppressions=tests/support/known_races.txt print_suppressions=0

# Data races, sought while a scene plays on several threads.
test-threads:
	@scripts/install-packages.sh build test
	cmake --preset threads
	cmake --build --preset threads -j $(JOBS)
	RC_PARAMS=max_success=40 TSAN_OPTIONS="$(KNOWN_RACES)" build/threads/tests/test_threads
	TSAN_OPTIONS="$(KNOWN_RACES)" tests/guarantees/same_bits.sh build/threads/tests/same_bits tests/guarantees/same_bits.txt "8 2"

# The bits at levels of optimisation that no preset has; compiles for minutes.
same-bits:
	@scripts/install-packages.sh build test
	@mkdir -p build/same_bits
	@for way in "g++ 0" "clang++ 0" "clang++ 3"; do \
	  set -- $$way; folder=build/same_bits/$$1-O$$2; echo "$$1 -O$$2"; \
	  cmake -G Ninja -S . -B $$folder -DCMAKE_CXX_COMPILER=$$1 -DCMAKE_BUILD_TYPE=Checked -DCMAKE_CXX_FLAGS=-O$$2 > $$folder.log && \
	  cmake --build $$folder -j $(JOBS) --target same_bits >> $$folder.log && \
	  tests/guarantees/same_bits.sh $$folder/tests/same_bits tests/guarantees/same_bits.txt || exit 1; \
	done

# So many seconds for each target; what it finds stays in build/clang/fuzz.
SECONDS_EACH ?= 20
fuzz:
	@scripts/install-packages.sh build test
	cmake --preset clang
	cmake --build --preset clang -j $(JOBS)
	scripts/fuzz.sh $(SECONDS_EACH)

bench:
	@scripts/install-packages.sh build test
	cmake --preset bench
	cmake --build --preset bench -j $(JOBS)
	build/bench/bench/bench_kinds
	build/bench/bench/bench_frames
	build/bench/bench/bench_cases
	build/bench/bench/bench_flocks
	build/bench/bench/bench_scripts
	build/bench/bench/bench_loading

# Instructions per object and frame of each kind, compared with bench/counts.csv. WRITE=1 writes them there.
counts:
	@scripts/install-packages.sh build test
	cmake --preset dev
	cmake --build --preset dev -j $(JOBS) --target bench_counted
	bench/counts.sh build/dev/bench/bench_counted bench/counts.csv $(if $(WRITE),--write)

coverage:
	@scripts/install-packages.sh build test coverage
	cmake --preset coverage
	cmake --build --preset coverage -j $(JOBS)
	ctest --preset coverage -j $(JOBS)
	cd build/coverage && gcovr --root . --object-directory . --filter $(CURDIR)/src/ --filter $(CURDIR)/include/ \
	  --html-details index.html --print-summary .

# Writes the messages that bad input provokes into tests/messages.txt. Read the differences before you commit them.
messages:
	@scripts/install-packages.sh build test
	cmake --preset dev
	cmake --build --preset dev -j $(JOBS) --target test_messages
	WRITE_MESSAGES=1 build/dev/tests/test_messages
	git diff --stat tests/messages.txt

# The documentation as HTML. Fails where a generated part of a document differs from the code.
docs: build
	@scripts/install-packages.sh docs
	TOOL=build/hushed node docs/site/generate.mjs --check
	@rm -rf build/docs && mkdir -p build/docs
	doxygen docs/Doxyfile
	@scripts/build-site.sh build/docs-tools build/docs

# Writes the generated parts of the documents: outputs of commands, files, tables of fields.
# The demo harbour in a window; SCENE=file for another scene.
SCENE ?= scenes/harbour.toml
window:
	@scripts/install-packages.sh build window
	cmake --preset release -DHUSHED_EXAMPLES=ON -DHUSHED_WINDOW=ON
	cmake --build --preset release -j $(JOBS) --target 15_in_a_window
	build/release/examples/15_in_a_window $(SCENE)

# build/packages/*.deb, checked by Debian's own checker.
packages:
	@scripts/install-packages.sh build packages
	cmake --preset packages
	cmake --build --preset packages -j $(JOBS)
	cd build/packages && cpack -B . > cpack.log || { cat cpack.log; exit 1; }
	cd build/packages && rm -rf _CPack_Packages && lintian --fail-on error --suppress-tags bad-distribution-in-changes-file *.deb
	@ls build/packages/*.deb

# Installs the packages in a new Debian 12 and builds a program there. Needs root.
try-packages: packages
	@scripts/install-packages.sh try-packages
	scripts/try-packages.sh build/packages

docs-parts: build
	TOOL=build/hushed node docs/site/generate.mjs

format:
	@scripts/install-packages.sh lint
	clang-format -i $(SOURCES)

# The fast half of lint: the formatter, the page's types and linter, and the list of npm's packages.
style:
	@scripts/install-packages.sh build lint
	@clang-format --dry-run --Werror $(SOURCES)
	node scripts/check-packages.mjs
	@scripts/install-page-packages.sh
	cd page && npm run --silent lint

lint: style
	@scripts/install-packages.sh test
	@cmake --preset lint > /dev/null
	@sed -n 's/^  "file": "\(.*\.c[px][px]*\)".*/\1/p' build/lint/compile_commands.json | grep / | \
	  xargs -P $(JOBS) -n 1 clang-tidy -p build/lint --quiet

screenshots: build
	@scripts/install-packages.sh screenshots
	scripts/screenshots.sh

clean:
	rm -rf build
