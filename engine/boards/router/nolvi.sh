#!/bin/sh
# The controller on a router, for plain ash. "nolvi.sh start" puts all lines as the design says;
# "nolvi.sh console" takes commands as lines and tells what came of them. Made by Nolvi.
#
# Beside it stand nolvi.table (what the design is, made from it) and nolvi.conf (which file is which
# line). Words of whoever types are compared, and never run.

here=$(cd "$(dirname "$0")" && pwd) || exit 1
table=${NOLVI_TABLE:-$here/nolvi.table}
conf=${NOLVI_CONF:-$here/nolvi.conf}
tab=$(printf '\t')
return=$(printf '\r')
set -f

fail() {
  echo "nolvi: $*" >&2
  exit 1
}

# A setting: "key = value".
setting() {
  while IFS= read -r line || [ -n "$line" ]; do
    case $line in
      "$1 = "*)
        printf '%s\n' "${line#"$1 = "}"
        return
        ;;
    esac
  done < "$conf"
}

[ -r "$table" ] || fail "$table cannot be read"
[ -r "$conf" ] || fail "$conf cannot be read"
run=$(setting run)
kept=$(setting kept)
[ -n "$run" ] && [ -n "$kept" ] || fail "$conf has to say \"run = ...\" and \"kept = ...\""

# --- State: a file for each load, so that all sessions know the same ---

value() { cat "$run/value-$1" 2>/dev/null; }

# Whole or not at all, whenever it is cut.
put() {
  printf '%s\n' "$2" > "$1.new.$$" && mv "$1.new.$$" "$1"
}

# One at a time changes anything; whoever held it and is gone is not waited for.
lock() {
  n=0
  until mkdir "$run/lock" 2>/dev/null; do
    n=$((n + 1))
    [ $n -lt 50 ] || { rmdir "$run/lock" 2>/dev/null; n=0; }
    sleep 0.1 2>/dev/null || sleep 1
  done
  held=1
}
unlock() {
  held=
  rmdir "$run/lock" 2>/dev/null
}
held=

# --- Lines ---

# Level that stands for "on" of a load, 0 or 1.
active() {
  while IFS=$tab read -r kind load level rest; do
    [ "$kind" = load ] && [ "$load" = "$1" ] && echo "$level" && return
  done < "$table"
}

# "pin LOAD = FILE", or "pin LOAD = FILE inverted" where a transistor turns it round.
drive() {
  of=$(setting "pin $1")
  file=${of% inverted}
  [ -n "$file" ] || fail "$conf does not say which file is the line of $1"
  level=$(active "$1")
  [ "$2" = on ] || level=$((1 - level))
  [ "$of" = "$file" ] || level=$((1 - level))
  # The level comes with the direction, where a line is still an input.
  direction=${file%/value}/direction
  if [ -w "$direction" ] && [ "$(cat "$direction")" = in ]; then
    [ $level = 1 ] && echo high > "$direction" || echo low > "$direction"
  fi
  echo $level > "$file" || fail "$file cannot be written"
}

# --- Start ---

start() {
  mkdir -p "$run" "$kept" || exit 1
  rmdir "$run/lock" 2>/dev/null
  starts=$(($(cat "$kept/starts" 2>/dev/null || echo 0) + 1))
  put "$kept/starts" $starts
  while IFS=$tab read -r kind load level powerUp rest; do
    [ "$kind" = load ] || continue
    is=$powerUp
    [ "$powerUp" = last ] && is=$(cat "$kept/value-$load" 2>/dev/null)
    [ "$is" = on ] || is=off
    drive "$load" $is
    put "$run/value-$load" $is
  done < "$table"
}

# --- What is asked for ---

# How a report of a load reads; nothing where it has no words.
report() {
  while IFS=$tab read -r kind load is words rest; do
    [ "$kind" = report ] && [ "$load" = "$1" ] && [ "$is" = "$2" ] && say "$words" && return
  done < "$table"
}

# What ends a line stands in the table.
say() {
  [ -n "$1" ] || return 0
  printf '%s%s\n' "$1" "$end"
}

flag() {
  while IFS=$tab read -r kind load acks changes rest; do
    [ "$kind" = tells ] && [ "$load" = "$1" ] || continue
    [ "$2" = ack ] && [ "$acks" = 1 ] && return 0
    [ "$2" = change ] && [ "$changes" = 1 ] && return 0
    return 1
  done < "$table"
  return 1
}

# Asks a load for something, and tells it at most once.
wish() {
  is=$(value "$1")
  to=$2
  case $to in
    toggle | flip | next) [ "$is" = on ] && to=off || to=on ;;
  esac
  if [ "$is" != "$to" ]; then
    drive "$1" "$to"
    put "$run/value-$1" "$to"
    keeps "$1" && put "$kept/value-$1" "$to"
    flag "$1" change && { knows "$1" "$to"; report "$1" "$to"; return; }
  fi
  knows "$1" "$to"
  flag "$1" ack && report "$1" "$to"
}

keeps() {
  while IFS=$tab read -r kind load level powerUp rest; do
    [ "$kind" = load ] && [ "$load" = "$1" ] && [ "$powerUp" = last ] && return 0
  done < "$table"
  return 1
}

state() {
  while IFS=$tab read -r kind load rest; do
    [ "$kind" = tells ] && report "$load" "$(value "$load")"
  done < "$table"
}

scene() {
  while IFS=$tab read -r kind name load to rest; do
    [ "$kind" = scene ] && [ "$name" = "$1" ] && wish "$load" "$to"
  done < "$table"
}

# The first meaning of a line is what it means.
hear() {
  while IFS=$tab read -r kind text what load to rest; do
    [ "$kind" = said ] && [ "$text" = "$1" ] || continue
    case $what in
      set) wish "$load" "$to" ;;
      scene) scene "$load" ;;
      ask) state ;;
      hello) hello ;;
    esac
    return
  done < "$table"
  say "$error"
}

hello() {
  starts=$(cat "$kept/starts" 2>/dev/null || echo 0)
  say "$helloBefore$starts$helloAfter"
}

# --- A session ---

# What a session knows of a load.
knows() { put "$session/$1" "$2"; }

# What somebody else changed, or a start.
others() {
  while IFS=$tab read -r kind load acks changes rest; do
    [ "$kind" = tells ] || continue
    is=$(value "$load")
    [ "$is" = "$(cat "$session/$load" 2>/dev/null)" ] && continue
    knows "$load" "$is"
    [ "$changes" = 1 ] && report "$load" "$is"
  done < "$table"
}

# Nobody is ended while he holds what the others wait for.
leave() {
  [ -n "$held" ] || lock
  kill "$watcher" 2>/dev/null
  rm -rf "$session"
  unlock
  exit 0
}

console() {
  [ -d "$run" ] || fail "start it first: nolvi.sh start"
  session=$run/session-$$
  mkdir -p "$session" || exit 1
  end=
  error=
  helloBefore=
  helloAfter=
  onConnect=0
  while IFS=$tab read -r kind first second rest; do
    case $kind in
      end) [ "$first" = crlf ] && end=$return ;;
      error) error=$first ;;
      hello) helloBefore=$first helloAfter=$second ;;
      connect) onConnect=$first ;;
      tells) knows "$first" "$(value "$first")" ;;
    esac
  done < "$table"
  [ "$onConnect" = 1 ] && state
  # Every second it looks for what others did, until its session is gone.
  {
    # Its sleep holds nothing open.
    while sleep 1 > /dev/null 2>&1 && [ -d "$session" ]; do
      lock
      others
      unlock
    done
  } <&- &
  watcher=$!
  trap leave HUP INT TERM
  while IFS= read -r line; do
    line=${line%"$return"}
    [ -n "$line" ] || continue
    lock
    others
    hear "$line"
    unlock
  done
  leave
}

case $1 in
  start) start ;;
  console) console ;;
  *) fail "nolvi.sh start, or nolvi.sh console" ;;
esac
