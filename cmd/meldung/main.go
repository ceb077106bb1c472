// Command meldung is the whole program: the server, the demonstration, and the
// tools that work on a data folder.
package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"slices"
	"syscall"
	_ "time/tzdata" // zones are known on machines that lack them

	"github.com/spf13/cobra"

	"meldung/files/yamlfile"
	"meldung/web"
)

func main() {
	ctx, stop := signal.NotifyContext(context.Background(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	root := rootCommand()
	if command, err := root.ExecuteContextC(ctx); err != nil {
		tell(os.Stderr, err)
		if slices.Contains([]string{"meldung assess", "meldung results", "meldung outlook", "meldung rules check"}, command.CommandPath()) {
			os.Exit(2)
		}
		os.Exit(1)
	}
}

func rootCommand() *cobra.Command {
	root := &cobra.Command{
		Use:           "meldung",
		Short:         "Attendance, safe arrival and follow-up for a school",
		SilenceUsage:  true,
		SilenceErrors: true,
	}
	root.AddCommand(demoCommand(), serveCommand(), importCommand(), exportCommand(), checkCommand(), backupCommand(), restoreCommand(), assessCommand(), resultsCommand(), outlookCommand(), rulesCommand(), policiesCommand(), openAPICommand())
	return root
}

// tell prints what went wrong: problems of files as they are, one a line.
func tell(out io.Writer, err error) {
	var wrong problems
	var inFile *yamlfile.Problem
	switch {
	case errors.As(err, &wrong), errors.As(err, &inFile):
		fmt.Fprintln(out, err)
	default:
		fmt.Fprintln(out, "meldung:", err)
	}
}

// openAPICommand prints the API's description, from which the interface's types
// are made.
func openAPICommand() *cobra.Command {
	return &cobra.Command{
		Use: "openapi", Short: "Print the description of the API", Hidden: true, Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			text, err := web.OpenAPI()
			if err != nil {
				return err
			}
			_, err = c.OutOrStdout().Write(text)
			return err
		},
	}
}
