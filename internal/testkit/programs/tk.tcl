# A window that does what it is told on its standard input, for tests.
wm title . "Tk Slides"
wm geometry . 420x300
frame .f -background "#2468ac" -width 420 -height 260
pack .f -fill both -expand 1
menu .m -tearoff 0
.m add command -label "First reel"
.m add command -label "Second reel"
proc told {} {
	if {[gets stdin line] < 0} { if {[eof stdin]} { exit }; return }
	switch -- $line {
		dialog { toplevel .d; wm title .d "Tk Question"; wm geometry .d 200x120; wm transient .d . }
		undialog { destroy .d }
		menu { tk_popup .m [expr {[winfo rootx .] + 40}] [expr {[winfo rooty .] + 40}] }
		unmenu { .m unpost }
		fullscreen { wm attributes . -fullscreen 1 }
		unfullscreen { wm attributes . -fullscreen 0 }
		maximise { wm attributes . -zoomed 1 }
		unmaximise { wm attributes . -zoomed 0 }
		place { puts "[winfo rootx .] [winfo rooty .]"; flush stdout }
		quit { exit }
	}
}
fconfigure stdin -blocking 0
fileevent stdin readable told
