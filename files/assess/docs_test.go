package assess_test

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The page of calculations names a test for each rule; each must be there.
func TestTheRulesNameTestsThatExist(t *testing.T) {
	page, err := os.ReadFile("../../docs/calculations.md")
	require.NoError(t, err)
	var all strings.Builder
	for _, pattern := range []string{"../../core/*/*_test.go", "../../files/*/*_test.go", "../../demo/*_test.go", "../../work/*_test.go", "../../work/*/*_test.go", "../../cmd/meldung/*_test.go"} {
		names, err := filepath.Glob(pattern)
		require.NoError(t, err)
		for _, name := range names {
			text, err := os.ReadFile(name)
			require.NoError(t, err)
			all.Write(text)
		}
	}
	named := regexp.MustCompile("`(Test[A-Za-z]+)`").FindAllStringSubmatch(string(page), -1)
	assert.Greater(t, len(named), 30)
	for _, n := range named {
		assert.True(t, strings.Contains(all.String(), "func "+n[1]+"("), "%s is not a test", n[1])
	}
}
