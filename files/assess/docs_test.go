package assess_test

import (
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The pages of rules and of security name a test for each line; each must be there.
func TestPagesNameTestsThatExist(t *testing.T) {
	var all strings.Builder
	require.NoError(t, filepath.WalkDir("../..", func(path string, d fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, "_test.go") {
			return err
		}
		text, err := os.ReadFile(path)
		all.Write(text)
		return err
	}))
	for page, least := range map[string]int{"calculations.md": 30, "security.md": 40} {
		text, err := os.ReadFile(filepath.Join("../../docs", page))
		require.NoError(t, err)
		named := regexp.MustCompile("`((?:Test|Fuzz)[A-Za-z]+)`").FindAllStringSubmatch(string(text), -1)
		assert.Greater(t, len(named), least, page)
		for _, n := range named {
			assert.True(t, strings.Contains(all.String(), "func "+n[1]+"("), "%s: %s is not a test", page, n[1])
		}
	}
}
