package web

import (
	"context"

	"meldung/files/table"
	"meldung/work"
)

// ImportFile is one uploaded file.
type ImportFile struct {
	Name    string `json:"name" maxLength:"200"`
	Content []byte `json:"content" doc:"base64"`
}

// Import is files to look at, or to apply.
type Import struct {
	Kind  string       `json:"kind" enum:"oneroster,timetable"`
	Apply bool         `json:"apply"`
	Files []ImportFile `json:"files" doc:"CSV files, or one zip archive"`
}

func (s *server) schoolRoutes() {
	get(s, "school", "/school", "The School page", func(ctx context.Context, _ *struct{}) (*body[work.SchoolView], error) {
		return answer(s.office.Overview(ctx))
	})
	post(s, "add-account", "/school/accounts", "Make an account with a one-time password", func(ctx context.Context, in *Keyed[work.NewAccount]) (*body[work.MadeAccount], error) {
		return answer(s.office.AddAccount(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "set-register-rules", "/school/register-rules", "Decide about registers", func(ctx context.Context, in *Keyed[work.RegisterRules]) (*body[work.Receipt], error) {
		return answer(s.office.SetRegisterRules(ctx, person(ctx), in.Key, in.Body))
	})
	post(s, "import-school", "/school/import", "Look at files, or apply them", func(ctx context.Context, in *Keyed[Import]) (*body[work.Plan], error) {
		files, err := uploaded(in.Body.Files)
		if err != nil {
			return nil, problem(&work.Error{Kind: work.Wrong, Words: err.Error() + "; nothing was changed"})
		}
		if in.Body.Kind == "timetable" {
			return answer(s.office.ImportTimetable(ctx, person(ctx), in.Key, files, in.Body.Apply))
		}
		return answer(s.office.ImportRoster(ctx, person(ctx), in.Key, files, in.Body.Apply))
	})
}

func uploaded(list []ImportFile) (table.Files, error) {
	if len(list) == 1 && len(list[0].Name) > 4 && list[0].Name[len(list[0].Name)-4:] == ".zip" {
		return table.Unzip(list[0].Content)
	}
	files := table.Files{}
	for _, f := range list {
		files[f.Name] = f.Content
	}
	return files, nil
}
