# What bash goes on with after zatlas. The line is read by the program itself: bash parts
# words also where the quotes of a command hold them together.
_zatlas() {
	local line first=1
	COMPREPLY=()
	while IFS= read -r line; do
		if [[ $first ]]; then
			first=
			[[ $line == files ]] && compopt -o default
			continue
		fi
		COMPREPLY+=("$line")
	done < <("${1/#\~/$HOME}" completion words "${COMP_LINE:0:COMP_POINT}" 2>/dev/null)
}
complete -o nosort -F _zatlas zatlas
