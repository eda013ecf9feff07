package lang_test

import (
	"fmt"

	"zatlas/internal/lang"
)

// A command is read from words, and printed as words that read the same; what
// cannot be read is told with its column and what could stand there.
func Example() {
	for _, line := range []string{`send  3 of app:ledger not is:sticky`, `rename "Box office" Tills`, `send 3 off app:ledger`} {
		command, err := lang.ParseCommand(line)
		if err != nil {
			fmt.Println(err)
			continue
		}
		fmt.Println(command.Verb, len(command.Args), lang.Print(command))
	}
	// Output:
	// send 1 send 3 of app:ledger not is:sticky
	// rename 2 rename "Box office" Tills
	// column 8: "off" does not fit here, expected of WINDOWS
}
