package work

import (
	"encoding/json"
	"fmt"
	"reflect"
	"strings"

	"github.com/danielgtaylor/huma/v2"
)

// A list that is not there is none of its length, here and in the API's description alike.
func init() { huma.DefaultArrayNullable = false }

// within holds what was asked against the limits that the tags of its fields state, as the
// API does for those who come by it: whoever calls is held to the same.
func within(in any) error {
	if in == nil {
		return nil
	}
	text, err := json.Marshal(in)
	if err != nil {
		return fmt.Errorf("reading what was asked: %w", err)
	}
	var plain any
	if err := json.Unmarshal(text, &plain); err != nil {
		return fmt.Errorf("reading what was asked: %w", err)
	}
	registry := huma.NewMapRegistry("#/", huma.DefaultSchemaNamer)
	schema := registry.Schema(reflect.TypeOf(in), false, "")
	found := &huma.ValidateResult{}
	huma.Validate(registry, schema, huma.NewPathBuffer(nil, 0), huma.ModeWriteToServer, plain, found)
	if len(found.Errors) == 0 {
		return nil
	}
	lines := make([]string, len(found.Errors))
	for i, e := range found.Errors {
		lines[i] = e.Error()
	}
	return Wrongf("%s; nothing was saved", strings.Join(lines, "; "))
}
