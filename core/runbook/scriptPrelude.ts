import { PRACTICE_BYTES } from "./identityCopy";

/**
 * The functions every script begins with. `@{` stands for the shell's `${`, which a template would take for its own.
 *
 * What happens is written as JSON lines into a report; with LANE set the report is sent on after each event. Sending
 * happens beside the work: a lane that is slow or away is never waited for, and the report can be dropped on the bench page
 * afterwards.
 */
export const PRELUDE = String.raw`
set -u
FASTBOOT=@{FASTBOOT:-fastboot}
ADB=@{ADB:-adb}
FILES=@{FILES:-.}
PHONE_HANDS=@{PHONE_HANDS:-}
FLASHER=@{FLASHER:-}
CARD=@{CARD:-}
STICK=@{STICK:-}
LANE=@{LANE:-}
LANE_KEY=@{LANE_KEY:-}
KEEP=@{KEEP:-./kept}
FROM=@{FROM:-1}
SESSION=$(date +%Y%m%d%H%M%S)-$$
REPORT=@{REPORT:-./$TAG-report-$SESSION.jsonl}
( : >>"$REPORT" ) 2>/dev/null || REPORT=@{TMPDIR:-/tmp}/$TAG-report-$SESSION.jsonl
: >>"$REPORT" || { echo "No report can be written at $REPORT: name another place with REPORT=" >&2; exit 1; }
OUT=$(mktemp) || exit 1
trap 'rm -f "$OUT"' EXIT
trap 'stop "It was interrupted"' INT TERM

at_step=0; at_code=; values=; seq=0

# json TEXT: as the inside of a JSON string.
json() {
  printf '%s' "$1" | LC_ALL=C tr '\t' ' ' | LC_ALL=C tr -d '\000-\010\013-\037\177' | LC_ALL=C sed 's/\\/\\\\/g; s/"/\\"/g' |
    LC_ALL=C awk '{ printf "%s%s", (NR > 1 ? "\\n" : ""), $0 }'
}

# value NAME VALUE: what the device told in this step.
value() { values="$values@{values:+,}\"$(json "$1")\":\"$(json "$2")\""; }

# note EVENT EXIT TAIL: one line of the report.
note() {
  seq=$((seq + 1))
  printf '{"session":"%s",%s"seq":%s,"at":"%s","step":%s,"code":"%s","event":"%s","exit":%s,"values":{%s},"tail":"%s"}\n' \
    "$SESSION" "@{SCRIPT:+\"script\":\"$SCRIPT\",}" "$seq" "$(date -u +%Y-%m-%dT%H:%M:%S.000Z)" "$at_step" "$(json "$at_code")" "$1" "$2" "$values" "$(json "$3")" >>"$REPORT"
  [ -z "$LANE" ] || ( send 5 >/dev/null 2>&1 & )
}
send() {
  curl -sS -m "$1" -o /dev/null -X POST -H 'content-type: application/x-ndjson' -H "x-lane-key: $LANE_KEY" --data-binary @"$REPORT" "@{LANE%/}/devices/$TAG_ADDRESS/report"
}
tail_of() { tail -n 12 "$OUT" 2>/dev/null | cut -c 1-400; }

# finished: the last words of a script, whichever way it ends; now the lane may take a moment.
finished() {
  [ -z "$LANE" ] || send 5 >/dev/null 2>&1 || printf 'The lane did not answer. Drop %s on the bench page instead.\n' "$REPORT"
  [ -n "$LANE" ] || printf 'What happened is in %s: drop it on the bench page.\n' "$REPORT"
}
stop() {
  note failed 1 "$1
$(tail_of)"
  printf 'STOP: %s\n' "$1" >&2
  finished
  exit 1
}

# step NUMBER OF CODE TITLE: begins a step; one that was done before is passed over.
step() {
  [ "$1" -ge "$FROM" ] || return 1
  at_step=$1; at_code=$3; values=; : >"$OUT"
  printf '\n[%s/%s] %s\n' "$1" "$2" "$4"
  note begun null ''
}
done_step() { note "done" 0 "$(tail_of)"; }

# limit SECONDS COMMAND…: runs a command for at most so many seconds. What only watches is ended by a signal that can't be held
# up: with a trap set, any other one may be swallowed before what was started has come into its own, and is waited for for ever.
limit() {
  limit_s=$1; shift
  "$@" & limit_child=$!
  ( n=0; while [ "$n" -lt "$limit_s" ]; do sleep 1; kill -0 "$limit_child" 2>/dev/null || exit 0; n=$((n + 1)); done
    kill "$limit_child" 2>/dev/null ) >/dev/null 2>&1 & limit_watch=$!
  wait "$limit_child"; limit_code=$?
  kill -9 "$limit_watch" 2>/dev/null
  wait "$limit_watch" 2>/dev/null
  return "$limit_code"
}

# logged SECONDS COMMAND…: the same, its words shown while it runs and kept for the report.
logged() {
  : >"$OUT"
  tail -f "$OUT" 2>/dev/null & logged_view=$!
  limit "$@" >>"$OUT" 2>&1; logged_code=$?
  sleep 0.1 2>/dev/null || sleep 1
  kill -9 "$logged_view" 2>/dev/null
  wait "$logged_view" 2>/dev/null
  return "$logged_code"
}

# run SECONDS OTHERWISE COMMAND…
run() {
  run_s=$1; run_otherwise=$2; shift 2
  logged "$run_s" "$@" || { tail_of >&2; stop "“$*” did not work. $run_otherwise"; }
}
try() { logged "$@" || printf 'That may fail; going on.\n'; }

# hands CODE TEXT OTHERWISE [HOLDS]: a person's part, or the simulated phone's; HOLDS are keys and the seconds they are held.
hands() {
  printf '[by hand] %s\n' "$2"
  if [ -n "$PHONE_HANDS" ]; then
    answer=$(curl -sS -X POST -w '\n%{http_code}' "@{PHONE_HANDS%/}/hands/$1@{4:+?hold=$4}" 2>&1) || stop "Nobody answers at $PHONE_HANDS ($answer)"
    case "$answer" in *200) ;; *) stop "$(printf '%s' "$answer" | head -n 1 | sed 's/^{"says":"\(.*\)"}$/\1/; s/\\\(["\\]\)/\1/g'). $3" ;; esac
  else
    printf 'Press Enter when that is done (Ctrl-C to stop): '
    read -r _ || stop "No answer. $3"
  fi
}

# flasher SECONDS OTHERWISE JSON TEXT LINE…: what a person sets in the flasher's window, or the stand-in does.
flasher() {
  fl_s=$1; fl_otherwise=$2; fl_json=$3
  printf '[in the flasher] %s\n' "$4"; shift 4
  printf '  - %s\n' "$@"
  if [ -n "$FLASHER" ]; then
    curl -sS -m "$fl_s" -X POST -H 'content-type: application/json' -w '%{http_code}\n' --data "$fl_json" "@{FLASHER%/}/run" >"$OUT" 2>&1
    cat "$OUT"
    [ "$(tail -n 1 "$OUT")" = 200 ] || stop "The flasher: $(tail -n 3 "$OUT" | sed '$d' | tr '\n' ' '). $fl_otherwise"
  else
    printf 'Press Enter when the flasher says that it succeeded (Ctrl-C to stop): '
    read -r _ || stop "No answer. $fl_otherwise"
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
    # A connection that broke off would be kept for ten seconds before the client tries it again.
    [ -n "$adb_address" ] && { $ADB disconnect "$adb_address"; $ADB connect "$adb_address"; } >/dev/null 2>&1
    sleep 1; n=$((n + 1))
  done
  stop "The client does not see the device as “$1”. $3"
}

# get_var NAME SECONDS, get_prop NAME SECONDS: what the device tells; nothing where it does not.
get_var() { limit "$2" $FASTBOOT getvar "$1" 2>&1 | tr -d '\r' | sed -n "s/^\((bootloader) \)\{0,1\}$1: *//p" | head -n 1; }
get_prop() { limit "$2" $ADB shell getprop "$1" 2>/dev/null | tr -d '\r' | head -n 1; }

# want_var NAME VALUE FACT SECONDS OTHERWISE
want_var() {
  got=$(get_var "$1" "$4"); value "$1" "$got"
  [ "$got" = "$2" ] || stop "The $3 is “$got”, the sheet says “$2”. $5"
}
want_prop() {
  got=$(get_prop "$1" "$4"); value "$1" "$got"
  [ "$got" = "$2" ] || stop "The $3 is “$got”, the sheet says “$2”. $5"
}

# record var|prop NAME SECONDS: writes a value down.
record() {
  if [ "$1" = var ]; then got=$(get_var "$2" "$3"); else got=$(get_prop "$2" "$3"); fi
  value "$2" "$got"
  printf '%s: %s\n' "$2" "@{got:-no answer: note it}"
}

# keep PARTITION SECONDS OTHERWISE: reads a partition into a file of this device's own; what was kept before is never written over.
keep() {
  mkdir -p "$KEEP/$TAG" || stop "The folder $KEEP/$TAG can't be made: name another place with KEEP="
  kept_name=$TAG-$1-$SESSION.img
  kept=$KEEP/$TAG/$kept_name
  logged "$2" $ADB pull "/dev/block/by-name/$1" "$kept" || stop "$1 could not be read. $3"
  kept_bytes=$(($(wc -c <"$kept")))
  [ "$kept_bytes" -gt 0 ] || stop "$1 came as an empty file. $3"
  [ "$(head -c 1048576 <"$kept" | tr -d '\000' | head -c 1 | wc -c)" -gt 0 ] ||
    printf '%s holds nothing but zeros: its identity may be lost already. Write it on the label.\n' "$1"
  kept_sum=$(sha256sum <"$kept" | cut -d ' ' -f 1)
  value "identity.$1" "$kept_name $kept_bytes $kept_sum"
  printf 'Kept %s: %s bytes, SHA-256 %s\n' "$kept" "$kept_bytes" "$kept_sum"
}

# keep_board SECONDS OTHERWISE ROW[=BYTES]…: the board's partitions, dumped by the flasher into a folder of this device's own.
keep_board() {
  kb_s=$1; kb_otherwise=$2; shift 2
  mkdir -p "$KEEP/$TAG" || stop "The folder $KEEP/$TAG can't be made: name another place with KEEP="
  kb_prefix=$TAG-$SESSION
  if [ -n "$FLASHER" ]; then
    curl -sS -m "$kb_s" -X POST -H 'content-type: application/json' -w '%{http_code}\n' --data "{\"prefix\":\"$kb_prefix\"}" "@{FLASHER%/}/dump" >"$OUT" 2>&1
    cat "$OUT"
    [ "$(tail -n 1 "$OUT")" = 200 ] || stop "The flasher: $(tail -n 3 "$OUT" | sed '$d' | tr '\n' ' '). $kb_otherwise"
  else
    printf 'Dump the board into %s, one file for each row, named %s-ROW.img. Press Enter when the flasher is done (Ctrl-C to stop): ' "$KEEP/$TAG" "$kb_prefix"
    read -r _ || stop "No answer. $kb_otherwise"
  fi
  kb_odd=; kb_practice=yes
  for each in "$@"; do
    row=@{each%%=*}; want=@{each#"$row"}; want=@{want#=}
    kept=$KEEP/$TAG/$kb_prefix-$row.img
    [ -s "$kept" ] || stop "The dump is cut short: $kept is missing or empty. $kb_otherwise"
    [ -n "$want" ] || continue
    kept_bytes=$(($(wc -c <"$kept")))
    [ "$kept_bytes" -eq ${PRACTICE_BYTES} ] || kb_practice=
    [ "$kept_bytes" = "$want" ] || kb_odd="$kb_odd $row has $kept_bytes bytes of $want;"
  done
  [ -z "$kb_odd" ] || [ -n "$kb_practice" ] || stop "The dump is not whole:$kb_odd the partition list says so. $kb_otherwise"
  for each in "$@"; do
    row=@{each%%=*}
    kept_name=$kb_prefix-$row.img
    kept=$KEEP/$TAG/$kept_name
    kept_sum=$(sha256sum <"$kept" | cut -d ' ' -f 1)
    value "identity.$row" "$kept_name $(($(wc -c <"$kept"))) $kept_sum"
  done
  printf 'Kept %s files in %s\n' "$#" "$KEEP/$TAG"
}

# fill_stick FILE OTHERWISE: a file to the root of the stick; STICK is where it is mounted, or the image of a stick.
fill_stick() {
  present "$1"
  [ -n "$STICK" ] || { printf 'Where is the stick mounted (or the file of a stick)? '; read -r STICK || stop "No answer. $2"; }
  [ -e "$STICK" ] || stop "There is no stick at $STICK. $2"
  if [ -d "$STICK" ]; then cp "$FILES/$1" "$STICK/" && sync || stop "The stick could not be written. $2"
  else logged 900 mcopy -o -i "$STICK" "$FILES/$1" ::/ </dev/null || stop "The stick could not be written. $2"; fi
}

# mc_done: what was unpacked for a card is not kept.
mc_done() { rm -r "$mc_new"; }

# make_card FOLDER ZIP OTHERWISE: the folder of a package at the root of the card; CARD is where it is mounted, or the image of a card.
make_card() {
  present "$2"
  [ -n "$CARD" ] || { printf 'Where is the card mounted (or the file of a card)? '; read -r CARD || stop "No answer. $3"; }
  [ -e "$CARD" ] || stop "There is no card at $CARD. $3"
  mc_new=$(mktemp -d) || stop "No folder for unpacking. $3"
  logged 900 unzip -q "$FILES/$2" -d "$mc_new" || { mc_done; stop "The package $2 can't be unpacked. $3"; }
  mc_from=$(find "$mc_new" -type d -name "$1" | head -n 1)
  [ -n "$mc_from" ] && [ -n "$(ls -A "$mc_from")" ] || { mc_done; stop "The package holds no folder $1 with files in it. $3"; }
  if [ -d "$CARD" ]; then
    [ ! -e "$CARD/$1" ] || { mc_done; stop "The card holds a folder $1 already: empty the card first. $3"; }
    cp -r "$mc_from" "$CARD/$1" && sync || { mc_done; stop "The card could not be written. $3"; }
  else
    logged 900 mcopy -s -i "$CARD" "$mc_from" ::/ </dev/null || { mc_done; stop "The card could not be written. $3"; }
  fi
  mc_done
  printf 'The folder %s lies at the root of %s\n' "$1" "$CARD"
}

# kept_file NAME DIGEST OTHERWISE: a file of the device's own is still what was kept.
kept_file() {
  [ -f "$KEEP/$TAG/$1" ] || stop "$1 is not in $KEEP/$TAG: name the place with KEEP=. $3"
  sum=$(sha256sum <"$KEEP/$TAG/$1" | cut -d ' ' -f 1)
  [ "$sum" = "$2" ] || stop "$1 is not what was kept of this device (its SHA-256 is $sum, it should be $2). $3"
}

# packages SECONDS: names of the packages on the device, one a line, into PACKAGES.
packages() {
  PACKAGES=$(limit "$1" $ADB shell pm list packages 2>/dev/null </dev/null | tr -d '\r' | sed -n 's/^package://p')
}
has_package() { printf '%s\n' "$PACKAGES" | grep -qxF "$1"; }

# whole_list SECONDS: every Android lists these two; without them it is no whole list, and nothing may be concluded from it.
whole_list() {
  packages "$1"
  has_package android || has_package com.android.settings || stop "The device does not tell its packages. $un_otherwise"
}

# says TEXT SECONDS OTHERWISE WORD…: asks Android; the answer must hold the text.
says() {
  says_want=$1; says_s=$2; says_otherwise=$3; shift 3
  got=$(limit "$says_s" $ADB shell "$@" 2>&1 </dev/null | tr -d '\r' | tail -n 1 | cut -c 1-300)
  value answer "$got"
  case "$got" in *"$says_want"*) ;; *) stop "The device answers “$got”, wanted is “$says_want”. $says_otherwise" ;; esac
}

# measure before|after SECONDS
measure() {
  packages "$2"
  value "packages.$1" "$(printf '%s\n' "$PACKAGES" | grep -c .)"
  value "storage.$1" "$(limit "$2" $ADB shell df /data 2>/dev/null </dev/null | tr -d '\r' | awk 'NR == 2 { print $4 }')"
  value "memory.$1" "$(limit "$2" $ADB shell cat /proc/meminfo 2>/dev/null </dev/null | tr -d '\r' | awk '/^MemAvailable:/ { print $2 }')"
  printf 'Measured: %s\n' "$values"
}

# uninstall SECONDS OTHERWISE NAME…: one by one; what is gone afterwards is read, not believed.
uninstall() {
  un_s=$1; un_otherwise=$2; shift 2
  whole_list "$un_s"
  before=$PACKAGES
  for name in "$@"; do
    has_package "$name" || continue
    logged "$un_s" $ADB shell pm uninstall "$name" </dev/null
    grep -q '^Success' "$OUT" || logged "$un_s" $ADB shell pm uninstall --user 0 "$name" </dev/null
  done
  whole_list "$un_s"
  after=$PACKAGES
  mkdir -p "$KEEP/$TAG" && undo=$KEEP/$TAG/$TAG-removed-$SESSION.txt || stop "The folder $KEEP/$TAG can't be made: name another place with KEEP="
  for name in "$@"; do
    PACKAGES=$before
    if ! has_package "$name"; then value "package.$name" absent; continue; fi
    PACKAGES=$after
    if has_package "$name"; then value "package.$name" stays; printf 'It stays: %s\n' "$name"
    else value "package.$name" gone; printf '%s\n' "$name" >>"$undo"; fi
  done
  printf 'What is gone is listed in %s\n' "$undo"
}

# read_slot EXPECTED SECONDS OTHERWISE: keeps the device's own slot; an empty EXPECTED takes whichever it is.
slot=
read_slot() {
  slot=$(get_var current-slot "$2" | tr -d _)
  value current-slot "$slot"
  case "$slot" in a|b) ;; *) stop "The device does not tell its current slot (“$slot”). $3" ;; esac
  [ -z "$1" ] || [ "$slot" = "$1" ] || stop "The current slot is “$slot”, the sheet says “$1”. $3"
}

# userspace MUST SECONDS OTHERWISE: yes, or back to the bootloader where it can do the work as well.
userspace() {
  got=$(get_var is-userspace "$2"); value is-userspace "@{got:-no}"
  [ "$got" = yes ] && return 0
  [ "$1" = must ] && stop "$3"
  hands keys.bootloader "No userspace fastboot: start the bootloader by keys and go on there" "$3"
}

# battery dumpsys|getvar STOP FLOOR OTHERWISE: below STOP nothing is written; below FLOOR it waits on the charger.
battery() {
  waited=0
  while :; do
    if [ "$1" = dumpsys ]; then
      level=$(limit 20 $ADB shell dumpsys battery 2>/dev/null | tr -d '\r' | sed -n 's/^ *level: *\([0-9]\{1,3\}\).*/\1/p' | head -n 1)
    else
      case "$(get_var battery-soc-ok 20)" in no) stop "The bootloader says that the battery is too low to write. $4" ;; esac
      level=$(get_var battery-level 20 | sed -n 's/^\([0-9]\{1,3\}\)%\{0,1\}$/\1/p')
    fi
    case "$level" in
      '') hands check.battery "The device does not tell its battery: look at the screen, $3 % or more" "$4"; return 0 ;;
    esac
    [ "$level" -ge "$2" ] || { value battery "$level"; stop "The battery is at $level %. Below $2 % nothing is written. $4"; }
    [ "$level" -lt "$3" ] || { value battery "$level"; printf 'Battery: %s %%\n' "$level"; return 0; }
    [ "$waited" -lt 5400 ] || { value battery "$level"; stop "The battery is still at $level % after a long wait. $4"; }
    [ $((waited % 60)) -ne 0 ] || printf 'Battery: %s %%. Waiting on the charger for %s %%\n' "$level" "$3"
    # The simulated phone charges as often as it is asked.
    if [ -n "$PHONE_HANDS" ]; then sleep 0.1 2>/dev/null || sleep 1; else sleep 2; fi
    waited=$((waited + 2))
  done
}`.replaceAll("@{", "$" + "{");
