#!/usr/bin/env bash
# Changes the core's code, one change at a time, and says which changes no test notices: the mutation score of a folder of src/Lectica.
# "tests/mutants.sh Swiping" takes minutes, all folders an hour or two. The score is written to artifacts/mutants/.
set -euo pipefail
cd "$(dirname "$0")/.."
folder=${1:?"usage: tests/mutants.sh FOLDER, such as Selecting, Moving, Commands, Acts, Marking, Swiping, States or Sources"}
[ -d "src/Lectica/$folder" ] || { echo "There is no folder src/Lectica/$folder." >&2; exit 2; }
export LECTICA_MUTANTS=$folder LECTICA_EFFORT=${LECTICA_EFFORT:-3} DOTNET_CLI_TELEMETRY_OPTOUT=1
report=$PWD/artifacts/mutants/$folder
# In a copy, where all other folders are closed to changes: what the tester puts into code that it does not change makes it slow, and once
# made it wrong.
copy=$(mktemp -d)
trap 'rm -rf "$copy"' EXIT
git ls-files -z --cached --others --exclude-standard | tar cf - --null -T - | tar xf - -C "$copy"
cd "$copy"
find src -name '*.cs' -not -path "src/Lectica/$folder/*" -exec sed -i '1s/^\xEF\xBB\xBF//; 1s/^/\/\/ Stryker disable all\n/' {} +
dotnet tool restore >/dev/null
cd tests/Lectica.Mutants
# The tests with all changes in them are kept while the tester has them: what nothing noticed is tried once more afterwards.
log=$copy/log
rm -rf "$report"
dotnet stryker --mutate "**/$folder/*.cs" --concurrency "$(nproc)" --output "$report" "${@:2}" > >(tee "$log") 2>&1 &
until grep -q "total mutants will be tested" "$log" 2>/dev/null || ! kill -0 $! 2>/dev/null; do sleep 1; done
cp -r bin/Release/net10.0 bin/changed
wait $!
dotnet run --file "$copy/tests/surviving-mutants.cs" -- "$report/reports/mutation-report.json" "$PWD/bin/changed/Lectica.Tests.dll"
