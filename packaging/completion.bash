# Completion for pale-kettle-batch: commands, options, and files.
_pale_kettle_batch() {
    local word=${COMP_WORDS[COMP_CWORD]} command=${COMP_WORDS[1]:-}
    if [ "$COMP_CWORD" -eq 1 ]; then
        mapfile -t COMPREPLY < <(compgen -W "new info probe check export plan bake status collect materials picture sheet steps schema docs --help --version" -- "$word")
    elif [[ $word == -* ]]; then
        mapfile -t COMPREPLY < <(compgen -W "$(pale-kettle-batch "$command" --help 2>/dev/null | grep -o -- '--[a-z-]*' | sort -u) --json --quiet --verbose" -- "$word")
    else
        mapfile -t COMPREPLY < <(compgen -f -- "$word")
    fi
}
complete -o filenames -F _pale_kettle_batch pale-kettle-batch
