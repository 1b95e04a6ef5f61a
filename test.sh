#!/usr/bin/env bash
# Sets up what the tests need, builds, then runs every test and checks the format. Needs the network for the set-up alone.
# LECTICA_OPERATIONS=10000000 or LECTICA_SAMPLES=10000000 before it makes the long run of the set's, or the pointers', property test.
set -uo pipefail
cd "$(dirname "$0")"
export DOTNET_CLI_TELEMETRY_OPTOUT=1 DOTNET_NOLOGO=1 NO_COLOR=1

# --- set-up -----------------------------------------------------------------------------------------------------------------------
as_root() { if [ "$(id -u)" -eq 0 ]; then "$@"; else sudo "$@"; fi; }
apt_install() {
    command -v apt-get >/dev/null || { echo "Please install: $*" >&2; exit 2; }
    as_root apt-get update -qq && as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$@" >/dev/null || { echo "Could not install: $*" >&2; exit 2; }
}
command -v dotnet >/dev/null || apt_install dotnet-sdk-10.0
# Cultures (finding by typing) need ICU.
ldconfig -p 2>/dev/null | grep -q libicuuc || apt_install libicu-dev

# The page is tested in a real browser, through its driver as well.
[ -x /usr/bin/chromium ] && [ -x /usr/bin/chromedriver ] || apt_install chromium chromium-driver fonts-dejavu-core

dotnet build Lectica.slnx -c Release -v quiet --nologo || { echo "0 passed, 1 failed"; exit 1; }
rm -rf artifacts/page
dotnet publish examples/NightPlan.Web -c Release -o artifacts/page -v quiet --nologo || { echo "the page cannot be published"; echo "0 passed, 1 failed"; exit 1; }
for example in examples/*.cs; do
    dotnet build "$example" -v quiet --nologo >/dev/null || { echo "$example does not build"; echo "0 passed, 1 failed"; exit 1; }
done

# --- tests ------------------------------------------------------------------------------------------------------------------------
mkdir -p artifacts
results=artifacts/tests.json
rm -f "$results"
# A long run also says how often each operation ran.
dotnet tests/Lectica.Tests/bin/Release/net10.0/Lectica.Tests.dll -noColor -result-ctrf "$results" ${LECTICA_OPERATIONS:+-showLiveOutput} ${LECTICA_SAMPLES:+-showLiveOutput}
[ -s "$results" ] || { echo "the test run gave no results"; echo "0 passed, 1 failed"; exit 1; }
count() { grep -oE "\"$1\": *[0-9]+" "$results" | head -1 | grep -oE '[0-9]+$'; }
passed=$(count passed) failed=$(count failed)

# The format counts as one test.
if dotnet format Lectica.slnx --verify-no-changes --no-restore; then passed=$((passed + 1)); else failed=$((failed + 1)); echo "format: run 'dotnet format'"; fi

echo "$passed passed, $failed failed"
[ "$failed" -eq 0 ] && [ "$passed" -gt 1 ]
