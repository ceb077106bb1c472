package main

import (
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"github.com/spf13/cobra"

	"meldung/pages/paperpage"
	"meldung/store"
	"meldung/work"
	"meldung/work/paperlists"
)

// exportList makes a list that somebody has saved, on the data of now.
func exportList() *cobra.Command {
	var data, out, by, at string
	c := &cobra.Command{
		Use: "list NAME", Short: "Make a saved list on the data of now: a PDF, CSV or spreadsheet, by the ending of --out", Args: cobra.ExactArgs(1),
		RunE: func(c *cobra.Command, args []string) error {
			format := strings.TrimPrefix(filepath.Ext(out), ".")
			if !slices.Contains([]string{"pdf", "csv", "xlsx"}, format) {
				return fmt.Errorf("--out ends in .pdf, .csv or .xlsx; %q does not", out)
			}
			return toRead(c.Context(), data, func(o *work.Office) error {
				setup, err := savedList(c, o, args[0], by)
				if err != nil {
					return err
				}
				f, err := paperpage.Make(c.Context(), o, work.Person{Name: "meldung export"}, at, paperpage.MakeAsk{Setup: setup, Format: format})
				if err != nil {
					return err
				}
				if err := os.WriteFile(out, f.Content, 0o600); err != nil {
					return fmt.Errorf("writing the list: %w", err)
				}
				fmt.Fprintf(c.OutOrStdout(), "%s, with student data, is in %s\n", args[0], out)
				return nil
			})
		},
	}
	c.Flags().StringVar(&data, "data", "", "data folder")
	c.Flags().StringVar(&out, "out", "", "file to write")
	c.Flags().StringVar(&by, "by", "", "username of whose list it is, where several have one of that name")
	c.Flags().StringVar(&at, "at", "", "as at a date or a minute, YYYY-MM-DD or YYYY-MM-DDTHH:MM; without, now")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	cobra.CheckErr(c.MarkFlagRequired("out"))
	return c
}

// savedList finds a list by its name.
func savedList(c *cobra.Command, o *work.Office, name, by string) (paperlists.Setup, error) {
	ctx := c.Context()
	all, err := store.PaperLists(ctx, o.Store().Read())
	if err != nil {
		return paperlists.Setup{}, err
	}
	accounts, err := store.Accounts(ctx, o.Store().Read())
	if err != nil {
		return paperlists.Setup{}, err
	}
	var found []store.PaperList
	var owners, names []string
	for _, l := range all {
		names = append(names, l.Name)
		i := slices.IndexFunc(accounts, func(a store.Account) bool { return a.ID == l.AccountID })
		if l.Name == name && i >= 0 && (by == "" || accounts[i].Username == by) {
			found, owners = append(found, l), append(owners, accounts[i].Username)
		}
	}
	switch {
	case len(found) == 0:
		return paperlists.Setup{}, fmt.Errorf("nobody has saved a list called %q; there are: %s", name, strings.Join(names, ", "))
	case len(found) > 1:
		return paperlists.Setup{}, fmt.Errorf("several have a list called %q: say whose with --by %s", name, strings.Join(owners, " or --by "))
	}
	return paperlists.Read(found[0].Setup)
}
