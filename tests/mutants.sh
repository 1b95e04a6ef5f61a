#!/usr/bin/env bash
# Changes the core's code, one change at a time, and says which changes no test notices: the mutation score of a folder of src/Lectica.
# "tests/mutants.sh Swiping" takes minutes, all folders hours. The score is written to artifacts/mutants/.
set -euo pipefail
cd "$(dirname "$0")/.."
folder=${1:?"usage: tests/mutants.sh FOLDER, such as Selecting, Moving, Commands, Acts, Marking, Swiping, States or Sources"}
[ -d "src/Lectica/$folder" ] || { echo "There is no folder src/Lectica/$folder." >&2; exit 2; }
export LECTICA_MUTANTS=$folder LECTICA_EFFORT=${LECTICA_EFFORT:-3} DOTNET_CLI_TELEMETRY_OPTOUT=1
dotnet tool restore >/dev/null
rm -rf tests/Lectica.Mutants/bin tests/Lectica.Mutants/obj
cd tests/Lectica.Mutants
dotnet stryker --mutate "**/$folder/*.cs" --concurrency "$(nproc)" --output "$PWD/../../artifacts/mutants/$folder" "${@:2}"
