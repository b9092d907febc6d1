# Follows a run of nerrit-measure on a host without a runtime, for any POSIX shell: what `follow` of the measuring
# process is elsewhere (src/engine/away/), with the same words. Begins the run where there is none in its folder yet.
#
# Arguments: the program, the run's folder, the number of the first line that is missing, and "found" for a run that
# was begun before. Four lines come in first: the folder to measure in, which way and where the other end of a copy
# is, and the order. Then "stop" or "taken" may come. Ends with 4 where no run began; standard error says why.
#
# The run goes on where the line is cut: the program ignores the hang-up, and writes what it tells into the folder.

program=$1 folder=$2 from=$3 found=$4
BOOT=/proc/sys/kernel/random/boot_id
IFS= read -r target
IFS= read -r way
IFS= read -r other
IFS= read -r order || exit 0 # cut off before anything was asked

died() {
  echo nerrit-run-died
  exit 0
}

begin() {
  printf %s "$order" >job
  cat $BOOT >boot 2>/dev/null
  : >heard
  set -- --order job --out lines --target "$target"
  [ -z "$way" ] || set -- "$@" "--$way" "$other"
  (
    trap '' HUP
    "$program" "$@" 2>complaint &
    run=$!
    echo $run >pid
    # Nobody there for an hour ends the run.
    while sleep 20; do [ -z "$(find heard -mmin +60)" ] || kill $run; done &
    alone=$!
    wait $run
    echo $? >ended
    kill $alone
  ) </dev/null >/dev/null 2>&1 &
}

if [ "$found" = found ]; then
  [ -e "$folder/job" ] || died
elif [ "$from" = 0 ] && umask 077 && mkdir -p "${folder%/*}" && mkdir "$folder" 2>/dev/null; then
  # Of several callers this one made the folder.
  cd "$folder" && begin
fi
if ! cd "$folder" 2>/dev/null; then
  [ "$from$found" != 0 ] && died
  echo "No folder can be made in ${folder%/*}." >&2
  exit 4
fi

# What is said meanwhile. The end of that is the end of the line, and none of the run's.
exec 4<&0
(
  while IFS= read -r said; do
    case $said in
      stop) kill "$(cat pid)" ;;
      taken)
        cd /
        rm -rf "$folder"
        exit 0
        ;;
    esac
  done
  kill $$
) <&4 >/dev/null 2>&1 &
hears=$!

# Whether the program is over: it has said its status, or is gone without that.
over() {
  [ -e ended ] && return 0
  [ -n "$pid" ] || read -r pid <pid || return 1
  kill -0 "$pid" && return 1
  sleep 1
}
pid=
isOver=0
# A host that was started anew since then has no such process any more, whatever its number is now.
[ "$(cat boot 2>/dev/null)" = "$(cat $BOOT 2>/dev/null)" ] || isOver=1

until [ -e lines ] || [ $isOver = 1 ]; do
  over 2>/dev/null && isOver=1 || sleep 1
done
if [ ! -e lines ]; then
  cat complaint >&2
  cd /
  rm -rf "$folder"
  kill $hears
  exit 4
fi

# Lines go out as they come, from the first that is missing on; one that is half written waits for its rest.
exec 3<lines
number=0 half= last=
while :; do
  if IFS= read -r line <&3; then
    last=$half$line
    half=
    [ $number -lt "$from" ] || printf '%s %s\n' $number "$last"
    number=$((number + 1))
  else
    half=$half$line
    [ $isOver = 1 ] && break
    : >heard
    echo # the line still carries
    over 2>/dev/null && isOver=1 || sleep 1
  fi
done
case $last in
  '{"event":"ended"'*) ;;
  *) echo nerrit-run-died ;;
esac
wait $hears
