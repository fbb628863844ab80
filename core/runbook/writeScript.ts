import type { Runbook, Step, Word } from "./step";

/** Quotes a text for a POSIX shell: single quotes, nothing inside is expanded. */
export function shellQuote(text: string): string {
  return `'${text.replaceAll("'", "'\\''")}'`;
}

/** Text safe in a comment or a printed sentence: one line, no control characters. */
const oneLine = (text: string) => text.replace(/\p{Cc}+/gu, " ").trim();

const word = (w: Word) => {
  if (typeof w !== "string")
    return "file" in w ? `"$FILES"/${shellQuote(w.file)}` : `${shellQuote(`${w.perSlot}_`)}"$slot"`;
  return /^[A-Za-z0-9_./=:-]+$/.test(w) ? w : shellQuote(w);
};

/**
 * Writes a runbook as a POSIX shell script.
 *
 * The script takes FASTBOOT and ADB (each may hold arguments), FILES (the folder of files) and PHONE_HANDS (address that
 * answers for hands; without it the script waits for Enter) from the environment. It stops at the first gate that fails,
 * with status 1 and a sentence on standard error.
 */
export function writeScript(runbook: Runbook): string {
  const lines = [
    "#!/bin/sh",
    `# Bench script for device ${oneLine(runbook.tag)} (${oneLine(runbook.modelTitle)}): ${oneLine(runbook.from)} to ${oneLine(runbook.to)}`,
    `# Way: ${oneLine(runbook.way)}`,
    ...runbook.cautions.map((c) => `# Caution: ${oneLine(c)}`),
    PRELUDE,
    "",
    ...runbook.steps.map((step, i) => stepLines(step, i + 1, runbook.steps.length)),
    "",
    `printf '\\nFinished: %s should now run %s. Go on to Checkout.\\n' ${shellQuote(oneLine(runbook.tag))} ${shellQuote(runbook.to)}`,
    "",
  ];
  return lines.join("\n");
}

function stepLines(step: Step, number: number, of: number): string {
  const out = [`\nstep ${number} ${of} ${shellQuote(oneLine(step.title))}`];
  const otherwise = shellQuote(oneLine(step.otherwise));
  if (step.caution) out.push(`deliberate ${shellQuote(oneLine(step.caution))}`);
  const { deed } = step;
  if (deed.kind === "hands") out.push(`hands ${shellQuote(deed.code)} ${shellQuote(oneLine(step.says))} ${otherwise}`);
  else if (deed.kind === "command") {
    const command = `${deed.tool === "fastboot" ? "$FASTBOOT" : "$ADB"} ${deed.words.map(word).join(" ")}`;
    if (deed.words[0] === "push" || deed.words[0] === "sideload")
      out.push(`see ${deed.words[0] === "sideload" ? "sideload" : "recovery"} 60 ${otherwise}`);
    out.push(
      deed.mayFail
        ? `limit ${step.latestSeconds} ${command} || printf 'That may fail; going on.\\n'`
        : `run ${step.latestSeconds} ${otherwise} ${command}`,
    );
  } else {
    const { gate } = deed;
    if (gate.kind === "digests")
      for (const f of gate.files) {
        if (f.sha256) out.push(`digest ${shellQuote(`${f.image}/${f.name}`)} ${f.sha256}`);
        else out.push(`present ${shellQuote(`${f.image}/${f.name}`)}`);
      }
    else if (gate.kind === "slot")
      out.push(`read_slot ${shellQuote(gate.expect ?? "")} ${step.latestSeconds} ${otherwise}`);
    else if (gate.kind === "adb-state") out.push(`see ${gate.state} ${step.latestSeconds} ${otherwise}`);
    else
      out.push(
        `want_${gate.kind === "getvar" ? "var" : "prop"} ${shellQuote(gate.name)} ${shellQuote(gate.expect)} ${shellQuote(gate.fact)} ${step.latestSeconds} ${otherwise}`,
      );
  }
  return out.join("\n");
}

/** The functions every script begins with. `@{` stands for the shell's `${`, which a template would take for its own. */
const PRELUDE = String.raw`
set -u
FASTBOOT=@{FASTBOOT:-fastboot}
ADB=@{ADB:-adb}
FILES=@{FILES:-.}
PHONE_HANDS=@{PHONE_HANDS:-}

stop() { printf 'STOP: %s\n' "$1" >&2; exit 1; }
step() { printf '\n[%s/%s] %s\n' "$1" "$2" "$3"; }

# Runs a command for at most so many seconds.
limit() {
  limit_s=$1; shift
  "$@" & limit_child=$!
  ( n=0; while [ "$n" -lt "$limit_s" ]; do sleep 1; kill -0 "$limit_child" 2>/dev/null || exit 0; n=$((n + 1)); done
    kill "$limit_child" 2>/dev/null ) >/dev/null 2>&1 & limit_watch=$!
  wait "$limit_child"; limit_code=$?
  kill "$limit_watch" 2>/dev/null
  wait "$limit_watch" 2>/dev/null
  return "$limit_code"
}

# run SECONDS OTHERWISE COMMAND…
run() {
  run_s=$1; run_otherwise=$2; shift 2
  limit "$run_s" "$@" || stop "“$*” did not work. $run_otherwise"
}

# hands CODE TEXT OTHERWISE: a person's part, or the simulated phone's.
hands() {
  printf '[by hand] %s\n' "$2"
  if [ -n "$PHONE_HANDS" ]; then
    answer=$(curl -sS -X POST -w '\n%{http_code}' "@{PHONE_HANDS%/}/hands/$1" 2>&1) || stop "Nobody answers at $PHONE_HANDS ($answer)"
    case "$answer" in *200) ;; *) stop "$(printf '%s' "$answer" | head -n 1). $3" ;; esac
  else
    printf 'Press Enter when that is done (Ctrl-C to stop): '
    read -r _ || stop "No answer. $3"
  fi
}

# deliberate TEXT: what can't be undone takes a typed yes.
deliberate() {
  printf '\n!! %s\n' "$1"
  if [ -n "$PHONE_HANDS" ]; then hands confirm.irreversible "$1" "Stop and ask the coordinator"
  else
    printf 'Type yes to go on: '
    read -r yes || stop "No answer: nothing was done"
    [ "$yes" = yes ] || stop "Not confirmed: nothing was done"
  fi
}

present() { [ -f "$FILES/$1" ] || stop "The file $1 is not in $FILES. Fetch it first"; }
digest() {
  present "$1"
  sum=$(sha256sum <"$FILES/$1" | cut -d ' ' -f 1)
  [ "$sum" = "$2" ] || stop "The file $1 is not the right one or is damaged (its SHA-256 is $sum, it should be $2). Fetch it again"
}

# Where ADB names a network device (-s HOST:PORT), the client is asked to connect again after each restart.
adb_address=$(printf '%s %s' "$ADB" "@{ANDROID_SERIAL:+-s $ANDROID_SERIAL}" | sed -n 's/.*-s *\([^ ]*:[0-9][0-9]*\).*/\1/p')

# see STATE SECONDS OTHERWISE: waits until the client sees the device in a state.
see() {
  n=0
  while [ "$n" -lt "$2" ]; do
    state=$($ADB get-state 2>/dev/null | tr -d '\r')
    [ "$state" = "$1" ] && return 0
    # A client that does not name its device keeps the address it was connected to in its list.
    [ -n "$adb_address" ] || adb_address=$($ADB devices 2>/dev/null | sed -n 's/^\([0-9.]*:[0-9][0-9]*\)[[:space:]].*/\1/p' | head -n 1)
    [ -n "$adb_address" ] && $ADB connect "$adb_address" >/dev/null 2>&1
    sleep 1; n=$((n + 1))
  done
  stop "The client does not see the device as “$1”. $3"
}

# want_var NAME VALUE FACT SECONDS OTHERWISE
want_var() {
  got=$(limit "$4" $FASTBOOT getvar "$1" 2>&1 | tr -d '\r' | sed -n "s/^\((bootloader) \)\{0,1\}$1: *//p" | head -n 1)
  [ "$got" = "$2" ] || stop "The $3 is “$got”, the sheet says “$2”. $5"
}

# read_slot EXPECTED SECONDS OTHERWISE: keeps the device's own slot; an empty EXPECTED takes whichever it is.
slot=
read_slot() {
  slot=$(limit "$2" $FASTBOOT getvar current-slot 2>&1 | tr -d '\r_' | sed -n 's/^\((bootloader) \)\{0,1\}current-slot: *//p' | head -n 1)
  case "$slot" in a|b) ;; *) stop "The device does not tell its current slot (“$slot”). $3" ;; esac
  [ -z "$1" ] || [ "$slot" = "$1" ] || stop "The current slot is “$slot”, the sheet says “$1”. $3"
}

# want_prop NAME VALUE FACT SECONDS OTHERWISE
want_prop() {
  got=$(limit "$4" $ADB shell getprop "$1" 2>/dev/null | tr -d '\r' | head -n 1)
  [ "$got" = "$2" ] || stop "The $3 is “$got”, the sheet says “$2”. $5"
}`.replaceAll("@{", "$" + "{");
