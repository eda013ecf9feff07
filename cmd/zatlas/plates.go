package main

import (
	"errors"
	"fmt"

	"github.com/spf13/cobra"

	"zatlas/internal/desk"
	"zatlas/internal/plate"
	"zatlas/internal/settings"
)

// listedPlate is a plate as plates prints it for programs.
type listedPlate struct {
	Name       string `json:"name"`
	Size       string `json:"size,omitempty"`
	Letter     string `json:"letter,omitempty"`
	Workspaces int    `json:"workspaces,omitempty"`
	Places     int    `json:"places,omitempty"`
	Fault      string `json:"fault,omitempty"` // of one that cannot be read
}

func platesCommand() *cobra.Command {
	var asJSON bool
	cmd := &cobra.Command{
		Use:     "plates",
		Short:   "List plates, and files with faults",
		Example: "  zatlas plates\n  zatlas plates --json",
		Long: `List the plates: arrangements that are kept, as files beside the settings. Those that
cannot be read are told with the line and the column, and the exit status is 1 then.`,
		Args: noArguments,
		RunE: func(cmd *cobra.Command, _ []string) error {
			shelf := plate.Beside(settings.Path())
			if shelf == nil {
				return fmt.Errorf("no folder for the settings is known: set HOME or XDG_CONFIG_HOME")
			}
			plates, faults := shelf.Read()
			if asJSON {
				list := []listedPlate{}
				for _, p := range (&desk.Desk{}).WithPlates(plates).PlateList() {
					l := listedPlate{Name: p.Name, Size: p.Size.String(), Workspaces: len(p.As.Workspaces), Places: len(p.As.Windows)}
					if p.Letter != 0 {
						l.Letter = string(rune(p.Letter))
					}
					list = append(list, l)
				}
				for _, f := range faults {
					list = append(list, listedPlate{Name: f.Name, Fault: f.Words})
				}
				return errors.Join(printJSON(cmd.OutOrStdout(), list), faulty(faults))
			}
			var lines [][]string
			for _, p := range (&desk.Desk{}).WithPlates(plates).PlateList() {
				letter := "-"
				if p.Letter != 0 {
					letter = string(rune(p.Letter))
				}
				lines = append(lines, []string{letter, p.Name, fmt.Sprint(p.Size), desk.Counted(len(p.As.Workspaces), "workspace"), desk.Counted(len(p.As.Windows), "place")})
			}
			if err := printTable(cmd.OutOrStdout(), lines); err != nil {
				return err
			}
			for _, f := range faults {
				fmt.Fprintln(cmd.ErrOrStderr(), "zatlas: "+f.Words)
			}
			return faulty(faults)
		},
	}
	cmd.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	return cmd
}

// faulty says how many files cannot be read; nil for none.
func faulty(faults []plate.Fault) error {
	if len(faults) == 0 {
		return nil
	}
	return fmt.Errorf("%s cannot be read", desk.Counted(len(faults), "file"))
}
