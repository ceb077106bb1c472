package main

import (
	"context"
	"encoding/json"
	"fmt"
	"net/url"
	"sync"
	"time"
)

// register is what the program reads of a register.
type register struct {
	Register struct {
		Class int64  `json:"class"`
		Slot  string `json:"slot"`
		State string `json:"state"`
	} `json:"register"`
	Date string `json:"date"`
	Rows []struct {
		Student struct {
			ID int64 `json:"id"`
		} `json:"student"`
		Versions []struct {
			Code string `json:"code"`
		} `json:"versions"`
	} `json:"rows"`
	Arriving struct {
		In string `json:"in"`
	} `json:"arriving"`
	CanSend bool   `json:"canSend"`
	WhyNot  string `json:"whyNot"`
}

// at is a register's address.
type at struct {
	Class int64  `json:"class"`
	Slot  string `json:"slot"`
	State string `json:"state"`
}

func (a at) path() string {
	return fmt.Sprintf("/api/registers/%d/%s", a.Class, url.PathEscape(a.Slot))
}

// out lists the registers that can be sent now.
func out(ctx context.Context, b *browser) ([]at, error) {
	text, err := b.as().get(ctx, "/api/registers")
	if err != nil {
		return nil, err
	}
	var list struct {
		Registers []at `json:"registers"`
	}
	if err := json.Unmarshal(text, &list); err != nil {
		return nil, err
	}
	var open []at
	for _, r := range list.Registers {
		if r.State != "sent" && r.State != "not due" {
			open = append(open, r)
		}
	}
	return open, nil
}

func opened(ctx context.Context, b *browser, a at) (register, error) {
	var r register
	text, err := b.as().get(ctx, a.path())
	if err == nil {
		err = json.Unmarshal(text, &r)
	}
	return r, err
}

// sent opens a register and sends it with everyone in it, and returns how long the send took.
func sent(ctx context.Context, b *browser, a at, key string) (took time.Duration, marks int, err error) {
	r, err := opened(ctx, b, a)
	if err != nil {
		return 0, 0, err
	}
	type mark struct {
		Student int64  `json:"student"`
		Code    string `json:"code"`
	}
	body := struct {
		Date  string `json:"date"`
		Class int64  `json:"class"`
		Slot  string `json:"slot"`
		Marks []mark `json:"marks"`
	}{r.Date, a.Class, a.Slot, []mark{}}
	for _, row := range r.Rows {
		body.Marks = append(body.Marks, mark{row.Student.ID, r.Arriving.In})
	}
	begun := time.Now()
	_, err = b.post(ctx, "/api/registers", key, body)
	return time.Since(begun), len(body.Marks), err
}

// arrived signs a student in at the desk.
func arrived(ctx context.Context, b *browser, student int, key string) (time.Duration, error) {
	begun := time.Now()
	_, err := b.post(ctx, "/api/movements", key, map[string]any{"students": []int{student}, "kind": "arrived", "reason": "ferry"})
	return time.Since(begun), err
}

// acknowledged is what the server has said that it has stored.
type acknowledged struct {
	mu        sync.Mutex
	registers map[at]int // marks
	movements map[string]int
	sends     []time.Duration
	moves     []time.Duration
	fresh     []time.Duration
	faults    []string
}

func newAcknowledged() *acknowledged {
	return &acknowledged{registers: map[at]int{}, movements: map[string]int{}}
}

// count returns how much was acknowledged.
func (k *acknowledged) count() int {
	k.mu.Lock()
	defer k.mu.Unlock()
	return len(k.registers) + len(k.movements)
}

func (k *acknowledged) fault(err error) {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.faults = append(k.faults, err.Error())
}

// lost looks at every register that was acknowledged and returns what is missing of it.
func (k *acknowledged) lost(ctx context.Context, b *browser) ([]string, error) {
	var missing []string
	for a, marks := range k.registers {
		r, err := opened(ctx, b, a)
		if err != nil {
			return nil, err
		}
		there := 0
		for _, row := range r.Rows {
			if len(row.Versions) > 0 {
				there++
			}
		}
		if r.Register.State != "sent" || there < marks {
			missing = append(missing, fmt.Sprintf("the register of class %d in %s: %d of %d marks", a.Class, a.Slot, there, marks))
		}
	}
	text, err := b.as().get(ctx, "/api/desk")
	if err != nil {
		return nil, err
	}
	var desk struct {
		Movements []struct {
			Student struct {
				ID int `json:"id"`
			} `json:"student"`
		} `json:"movements"`
	}
	if err := json.Unmarshal(text, &desk); err != nil {
		return nil, err
	}
	there := map[int]bool{}
	for _, m := range desk.Movements {
		there[m.Student.ID] = true
	}
	for _, student := range k.movements {
		if !there[student] {
			missing = append(missing, fmt.Sprintf("the arrival of student %d", student))
		}
	}
	return missing, nil
}
