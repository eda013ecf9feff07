#compdef zatlas
# What zsh goes on with after zatlas.
_zatlas() {
	local -a lines values shown
	local line begun=$PREFIX
	case $compstate[quote] in
	\') ;;
	\") begun=${begun//\\/} ;; # of a command nothing else stands behind one
	*) begun=${(Q)begun} ;;
	esac
	lines=("${(@f)$(${(Q)words[1]} __complete "${(@Q)words[2,CURRENT-1]}" "$begun" 2>/dev/null)}")
	local -i directive=${${lines[-1]}#:}
	lines[-1]=()
	if (( $#lines == 0 && !(directive & 4) )); then
		_files
		return
	fi
	local -i wide=0
	for line in $lines; do
		line=${line%%$'\t'*}
		values+=("$line")
		(( $#line > wide )) && wide=$#line
	done
	for line in $lines; do
		if [[ $line == *$'\t'* ]]; then
			shown+=("${(r:$wide:)${line%%$'\t'*}}  ${line#*$'\t'}")
		else
			shown+=("$line")
		fi
	done
	compadd -U -V zatlas -l -d shown -a values
}
if [[ $funcstack[1] == _zatlas ]]; then
	_zatlas "$@"
else
	compdef _zatlas zatlas
fi
