package main

import (
	"fmt"
	"time"

	"github.com/spf13/cobra"

	"meldung/outside"
	"meldung/store"
	"meldung/work"
	"meldung/work/check"
)

func checkCommand() *cobra.Command {
	var data string
	var whole bool
	c := &cobra.Command{
		Use: "check", Short: "Look for damage in a data folder, as it is at one moment; beside a server too", Args: cobra.NoArgs,
		RunE: func(c *cobra.Command, _ []string) error {
			db, err := store.OpenToRead(c.Context(), data)
			if err != nil {
				return err
			}
			defer db.Close()
			office, err := work.Open(c.Context(), db, outside.WallClock{Zone: time.UTC})
			if err != nil {
				return err
			}
			wrong, err := check.Check(c.Context(), office, whole)
			if err != nil {
				return err
			}
			for _, w := range wrong {
				fmt.Fprintln(c.OutOrStdout(), w)
			}
			if len(wrong) > 0 {
				return fmt.Errorf("%d things are wrong in %s", len(wrong), data)
			}
			fmt.Fprintln(c.OutOrStdout(), "all is well")
			return nil
		},
	}
	c.Flags().StringVar(&data, "data", "", "data folder")
	c.Flags().BoolVar(&whole, "whole", false, "compare every entry of every index, which takes some three times as long")
	cobra.CheckErr(c.MarkFlagRequired("data"))
	return c
}
