package main

import (
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"meldung/core/attention"
	"meldung/files/policyfile"
	"meldung/files/rulesfile"
)

// rulesCommand looks at rules by which a school finds who needs attention.
func rulesCommand() *cobra.Command {
	c := &cobra.Command{Use: "rules", Short: "Rules by which a school finds who needs attention"}
	var policies []string
	check := &cobra.Command{
		Use: "check FILE", Short: "Check a file of rules, and say what each means", Args: cobra.ExactArgs(1),
		Long: `Check a file of rules, and say what each means.

Where something is wrong the first mistake is told by line, and the command ends
with 2. Rules may name the shipped policies, and those in the files of --policy.`,
		RunE: func(c *cobra.Command, args []string) error {
			known, err := rulesfile.Policies()
			if err != nil {
				return err
			}
			for _, name := range policies {
				p, err := policyfile.Load(name)
				if err != nil {
					return err
				}
				known[p.ID] = p
			}
			text, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			rules, err := rulesfile.Parse(text, known)
			if err != nil {
				return err
			}
			for _, r := range rules {
				state := map[bool]string{false: " (off)"}[r.On]
				fmt.Fprintf(c.OutOrStdout(), "%s%s: %s\n", r.Title, state, r.Sentence(attention.Names{Policy: func(id string) string { return known[id].Title }}))
			}
			return nil
		},
	}
	check.Flags().StringArrayVar(&policies, "policy", nil, "path of a policy file that rules may name")
	c.AddCommand(check)
	return c
}
