#!/usr/bin/env bash
# Sets up what the tests need, builds, then runs every test and checks the format. Needs the network for the set-up alone.
# "./test.sh quick" tests the core alone: no browser, no database server, no published page, no examples.
# LECTICA_OPERATIONS=10000000 or LECTICA_SAMPLES=10000000 before it makes the long run of the set's, or the pointers', property test.
set -uo pipefail
cd "$(dirname "$0")"
export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1 NO_COLOR=1
case "${1:-all}" in
    all) quick= ;;
    quick) quick=1 ;;
    *) echo "usage: ./test.sh [quick]" >&2; exit 2 ;;
esac
live=
[ -z "${LECTICA_OPERATIONS:-}${LECTICA_SAMPLES:-}" ] || live=-showLiveOutput
passed=0 failed=0
# One part that fails does not hide the others: it counts, and they go on.
pass() { passed=$((passed + 1)); }
fail() { failed=$((failed + 1)); echo "FAILED: $1"; }
finish() { echo "$passed passed, $failed failed"; [ "$failed" -eq 0 ] && [ "$passed" -gt 1 ]; exit; }

# --- set-up -----------------------------------------------------------------------------------------------------------------------
as_root() { if [ "$(id -u)" -eq 0 ]; then "$@"; else sudo "$@"; fi; }
apt_install() {
    command -v apt-get >/dev/null || { echo "Please install: $*" >&2; exit 2; }
    as_root apt-get update -qq &&
        as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null ||
        { echo "Could not install: $*" >&2; exit 2; }
}
command -v dotnet >/dev/null || apt_install dotnet-sdk-10.0
# Cultures (finding by typing) need ICU.
ldconfig -p 2>/dev/null | grep -q libicuuc || apt_install libicu-dev
# The page is tested in a real browser, through its driver as well.
[ -n "$quick" ] || { [ -x /usr/bin/chromium ] && [ -x /usr/bin/chromedriver ]; } || apt_install chromium chromium-driver fonts-dejavu-core
# Queries are tested on a PostgreSQL server of our own, which is started below and stopped at the end.
[ -n "$quick" ] || command -v initdb >/dev/null || compgen -G "/usr/lib/postgresql/*/bin/initdb" >/dev/null || apt_install postgresql
# The packages are tested in a native program too, with no network: what that needs is fetched here.
if [ -z "$quick" ]; then
    command -v gcc >/dev/null || apt_install gcc libc6-dev
    mkdir -p artifacts/native && echo 'System.Console.WriteLine();' > artifacts/native/native.cs
    dotnet restore artifacts/native/native.cs -r linux-x64 -v quiet || fail "what native programs need cannot be fetched"
fi

# Without the build there is nothing to test.
dotnet build Lectica.slnx -c Release -v quiet --nologo || { fail "the build"; finish; }
if [ -z "$quick" ]; then
    rm -rf artifacts/page
    dotnet publish examples/NightPlan.Web -c Release -o artifacts/page -v quiet --nologo && pass || fail "the page cannot be published"
    for example in examples/*.cs; do
        dotnet build "$example" -v quiet --nologo >/dev/null && pass || fail "$example does not build: dotnet build $example says why"
    done
fi

# --- tests ------------------------------------------------------------------------------------------------------------------------
mkdir -p artifacts
# Runs tests; the options choose which.
run_tests() {
    local results=artifacts/tests.json
    rm -f "$results"
    # A long run also says how often each operation ran.
    dotnet tests/Lectica.Tests/bin/Release/net10.0/Lectica.Tests.dll -noColor -result-ctrf "$results" $live "$@"
    [ -s "$results" ] || { fail "the test run gave no results"; return; }
    count() { grep -oE "\"$1\": *[0-9]+" "$results" | head -1 | grep -oE '[0-9]+$'; }
    passed=$((passed + $(count passed))) failed=$((failed + $(count failed)))
}
if [ -n "$quick" ]; then
    LECTICA_OPERATIONS=${LECTICA_OPERATIONS:-25000}
    export LECTICA_OPERATIONS
    run_tests -namespace- Lectica.Tests.Page -namespace- Lectica.Tests.Tools -namespace- Lectica.Tests.Databases \
        -class- Lectica.Tests.House.ExampleTests -class- Lectica.Tests.House.PackageTests
    finish
fi
if postgres=$(tests/postgres.sh start); then
    trap 'tests/postgres.sh stop "$(head -1 <<<"$postgres")"' EXIT
    LECTICA_POSTGRES=$(tail -1 <<<"$postgres")
    export LECTICA_POSTGRES
else
    fail "the PostgreSQL server of the tests does not start"
fi
run_tests

# The format counts as one test.
dotnet format Lectica.slnx --verify-no-changes --no-restore && pass || fail "the format: run 'dotnet format'"
finish
