# Completion of vernus for bash.
_vernus() {
    local here=${COMP_WORDS[COMP_CWORD]} commands calls
    commands="demo open report check say calendar export import bench calc --help --version"
    calls="size align counts factor segments positioning hole gears key stops thermal envelope thread stroke screw-end
        bracket plate joint circle part-check schedule"
    if [ "$COMP_CWORD" -eq 1 ]; then
        mapfile -t COMPREPLY < <(compgen -W "$commands" -- "$here"; compgen -f -X '!*.vernus' -- "$here")
    elif [ "${COMP_WORDS[1]}" = calc ] && [ "$COMP_CWORD" -eq 2 ]; then
        mapfile -t COMPREPLY < <(compgen -W "$calls" -- "$here")
    else
        mapfile -t COMPREPLY < <(compgen -f -- "$here")
    fi
}
complete -o filenames -F _vernus vernus
