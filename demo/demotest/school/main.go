// Command school builds the invented school in a folder, for tests to copy.
package main

import (
	"context"
	"fmt"
	"os"

	"meldung/demo/demotest"
)

func main() {
	if len(os.Args) != 2 {
		fmt.Fprintln(os.Stderr, "usage: school FOLDER")
		os.Exit(2)
	}
	if err := demotest.Build(context.Background(), os.Args[1]); err != nil {
		fmt.Fprintln(os.Stderr, "building the school:", err)
		os.Exit(1)
	}
}
