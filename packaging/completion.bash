# Completion for lowkite, lowkite-calc and lowkite-bench-sim. Words come from --help, so that nothing is kept in step by hand.

_lowkite_words() {
  # Options, and the subcommands that stand alone at the start of a line with what they do behind them.
  "$@" --help 2>/dev/null | sed -nE 's/^ {2,}(-[A-Za-z], ?)?(--[a-z0-9-]+).*/\2/p; s/^ {2}([a-z][a-z-]*) {2,}.*/\1/p'
}

_lowkite() {
  local word=${COMP_WORDS[COMP_CWORD]} program=${COMP_WORDS[0]} ask=("${COMP_WORDS[0]}")
  COMPREPLY=()
  if [[ ${program##*/} == lowkite-calc && $COMP_CWORD -gt 1 && ${COMP_WORDS[1]} != -* ]]; then
    ask+=("${COMP_WORDS[1]}")
  fi
  if [[ $word == -* || ( ${program##*/} == lowkite-calc && $COMP_CWORD -eq 1 ) ]]; then
    mapfile -t COMPREPLY < <(compgen -W "$(_lowkite_words "${ask[@]}")" -- "$word")
    return
  fi
  compopt -o filenames 2>/dev/null
  mapfile -t COMPREPLY < <(compgen -d -- "$word"; compgen -f -X '!*.kite-*.json' -- "$word")
}
complete -F _lowkite lowkite lowkite-calc lowkite-bench-sim
