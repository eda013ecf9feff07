# What fish goes on with after zatlas.
function __zatlas_words
	set -l words (commandline -opc)
	set -l begun (commandline -ct)
	if string match -qr '^[\'"]' -- $begun
		set begun (string sub -s 2 -- $begun)
	else
		set begun (string unescape -- $begun)
	end
	set -l lines ($words[1] __complete $words[2..] "$begun" 2>/dev/null)
	set -l directive (string sub -s 2 -- $lines[-1])
	if test (math "bitand($directive, 4)") -eq 0 -a (count $lines) -eq 1
		__fish_complete_path "$begun"
	else
		string join \n -- $lines[1..-2]
	end
end
complete -c zatlas -e
complete -c zatlas -f -k -a '(__zatlas_words)'
