package outlook

import (
	"math"

	"gonum.org/v1/gonum/mat"
)

// The rounds end as R's glm.control(epsilon = 1e-10, maxit = 100) ends them. A fit is separated when some
// row's log-odds moved by more than mostMoved in the last round. Of a column that stays, at least remains of
// its length is new beside the columns before it.
const (
	epsilon    = 1e-10
	mostRounds = 100
	mostMoved  = 0.1
	remains    = 1e-7
)

// design is the history as columns of numbers.
type design struct {
	terms []Term
	cols  [][]float64 // by term, then by row
	y     []float64
}

func newDesign(h *History) *design {
	d := &design{}
	for i, in := range h.Inputs {
		if in.Number {
			d.terms = append(d.terms, Term{Input: i, Name: in.Name})
			continue
		}
		words, _ := h.words(i)
		if len(words) < 2 {
			d.terms = append(d.terms, Term{Input: i, Name: in.Name, Out: true})
			continue
		}
		for _, w := range words[1:] {
			d.terms = append(d.terms, Term{Input: i, Name: in.Name + w, Value: w})
		}
	}
	for _, r := range h.Rows {
		y := 0.0
		if r.Outcome {
			y = 1
		}
		d.y = append(d.y, y)
	}
	for _, t := range d.terms {
		col := make([]float64, len(h.Rows))
		for n, r := range h.Rows {
			if !t.Out {
				col[n] = t.of(r.Values[t.Input], h.Inputs[t.Input].Number)
			}
		}
		d.cols = append(d.cols, col)
	}
	return d
}

func (d *design) everyone() []int { return upTo(len(d.y)) }
func (d *design) columns() []int  { return upTo(len(d.terms)) }

func upTo(n int) []int {
	out := make([]int, n)
	for i := range out {
		out[i] = i
	}
	return out
}

// independent returns those of some columns of which enough remains beside the intercept and the columns
// before that stay, over some rows and without weights.
func (d *design) independent(rows, of []int) []int {
	ones := make([]float64, len(rows))
	for i := range ones {
		ones[i] = 1 / math.Sqrt(float64(len(rows)))
	}
	basis := [][]float64{ones}
	var keep []int
	for _, t := range of {
		v := make([]float64, len(rows))
		for i, r := range rows {
			v[i] = d.cols[t][r]
		}
		length := norm(v)
		for range 2 { // twice is enough for what rounding left
			for _, b := range basis {
				project := 0.0
				for i := range v {
					project += b[i] * v[i]
				}
				for i := range v {
					v[i] -= project * b[i]
				}
			}
		}
		left := norm(v)
		if length == 0 || left < remains*length {
			continue
		}
		for i := range v {
			v[i] /= left
		}
		basis, keep = append(basis, v), append(keep, t)
	}
	return keep
}

func norm(v []float64) float64 {
	scale := 0.0
	for _, x := range v {
		scale = max(scale, math.Abs(x))
	}
	if scale == 0 {
		return 0
	}
	sum := 0.0
	for _, x := range v {
		sum += x / scale * x / scale
	}
	return scale * math.Sqrt(sum)
}

// model is a fit's coefficients on the scale of the columns.
type model struct {
	intercept float64
	beta      []float64 // of every term; 0 where it is not in the fit
	rounds    int
	converged bool
	moved     float64 // the largest move of a row's log-odds in the last round
}

func (d *design) logOdds(m model, row int) float64 {
	eta := m.intercept
	for t, b := range m.beta {
		if b != 0 {
			eta += b * d.cols[t][row]
		}
	}
	return eta
}

func (d *design) deviance(rows []int, m model) float64 {
	sum := 0.0
	for _, r := range rows {
		sum += devianceOf(d.y[r], chance(d.logOdds(m, r)))
	}
	return sum
}

func devianceOf(y, mu float64) float64 {
	if y == 1 {
		return -2 * math.Log(mu)
	}
	return -2 * math.Log1p(-mu)
}

// edge is the log-odds beyond which a probability is as near to 0 or 1 as numbers come, as in R.
const edge = 30

var tiny = math.Nextafter(1, 2) - 1

// chance is the probability of log-odds.
func chance(eta float64) float64 {
	e := math.Exp(eta)
	switch {
	case eta < -edge:
		e = tiny
	case eta > edge:
		e = 1 / tiny
	}
	return e / (1 + e)
}

// slope is the derivative of chance.
func slope(eta float64) float64 {
	if math.Abs(eta) > edge {
		return tiny
	}
	e := math.Exp(eta)
	return e / (1 + e) / (1 + e)
}

// scales are means and population standard deviations of columns over rows.
type scales struct{ mean, sd []float64 }

func (d *design) scales(rows, keep []int) scales {
	s := scales{make([]float64, len(keep)), make([]float64, len(keep))}
	n := float64(len(rows))
	for j, t := range keep {
		for _, r := range rows {
			s.mean[j] += d.cols[t][r]
		}
		s.mean[j] /= n
		for _, r := range rows {
			x := d.cols[t][r] - s.mean[j]
			s.sd[j] += x * x
		}
		s.sd[j] = math.Sqrt(s.sd[j] / n)
	}
	return s
}

// fit runs iteratively reweighted least squares over some rows and columns, solved by QR on standardised
// columns; the penalty ½ λ Σ β² is over these, the intercept is free.
func (d *design) fit(rows, keep []int, ridge float64) model {
	s := d.scales(rows, keep)
	eta := make([]float64, len(rows))
	last := 0.0
	for i, r := range rows {
		mu := (d.y[r] + 0.5) / 2
		eta[i] = math.Log(mu / (1 - mu))
		last += devianceOf(d.y[r], chance(eta[i]))
	}
	var m model
	var beta []float64 // of the intercept, then of the standardised columns
	for m.rounds = 1; m.rounds <= mostRounds; m.rounds++ {
		beta = d.round(rows, keep, s, eta, ridge)
		deviance := 0.0
		m.moved = 0
		for i, r := range rows {
			next := beta[0]
			for j, t := range keep {
				next += beta[j+1] * (d.cols[t][r] - s.mean[j]) / s.sd[j]
			}
			m.moved = max(m.moved, math.Abs(next-eta[i]))
			eta[i] = next
			deviance += devianceOf(d.y[r], chance(next))
		}
		for _, b := range beta[1:] {
			deviance += ridge * b * b
		}
		if math.Abs(deviance-last)/(math.Abs(deviance)+0.1) < epsilon {
			m.converged = true
			break
		}
		last = deviance
	}
	m.rounds = min(m.rounds, mostRounds)
	m.intercept, m.beta = beta[0], make([]float64, len(d.terms))
	for j, t := range keep {
		m.beta[t] = beta[j+1] / s.sd[j]
		m.intercept -= m.beta[t] * s.mean[j]
	}
	return m
}

// weighted is the design of one round: standardised columns by the square root of their weights, below them
// the penalty.
func (d *design) weighted(rows, keep []int, s scales, eta []float64, ridge float64) (x *mat.Dense, root []float64) {
	p := len(keep) + 1
	more := 0
	if ridge > 0 {
		more = len(keep)
	}
	x = mat.NewDense(len(rows)+more, p, nil)
	root = make([]float64, len(rows))
	for i, r := range rows {
		mu, rise := chance(eta[i]), slope(eta[i])
		root[i] = math.Sqrt(rise * rise / (mu * (1 - mu)))
		x.Set(i, 0, root[i])
		for j, t := range keep {
			x.Set(i, j+1, root[i]*(d.cols[t][r]-s.mean[j])/s.sd[j])
		}
	}
	for j := range more {
		x.Set(len(rows)+j, j+1, math.Sqrt(ridge))
	}
	return x, root
}

func (d *design) round(rows, keep []int, s scales, eta []float64, ridge float64) []float64 {
	x, root := d.weighted(rows, keep, s, eta, ridge)
	height, p := x.Dims()
	z := mat.NewVecDense(height, nil)
	for i, r := range rows {
		z.SetVec(i, root[i]*(eta[i]+(d.y[r]-chance(eta[i]))/slope(eta[i])))
	}
	var qr mat.QR
	qr.Factorize(x)
	beta := mat.NewVecDense(p, nil)
	_ = qr.SolveVecTo(beta, false, z) // its only error tells that it is ill-conditioned: the columns are independent, and the rounds say so if not
	out := make([]float64, p)
	for j := range out {
		out[j] = beta.AtVec(j)
	}
	return out
}

// coefficients returns a model's estimates with standard errors from the inverse information there.
func (d *design) coefficients(rows, keep []int, ridge float64, m model) (Coefficient, []Coefficient) {
	s := d.scales(rows, keep)
	eta := make([]float64, len(rows))
	for i, r := range rows {
		eta[i] = d.logOdds(m, r)
	}
	x, _ := d.weighted(rows, keep, s, eta, ridge)
	var qr mat.QR
	qr.Factorize(x)
	var r mat.Dense
	qr.RTo(&r)
	p := len(keep) + 1
	upper := mat.NewTriDense(p, mat.Upper, nil)
	for i := range p {
		for j := i; j < p; j++ {
			upper.SetTri(i, j, r.At(i, j))
		}
	}
	var inverse mat.TriDense
	_ = inverse.InverseTri(upper) // as in round
	// The covariance is R⁻¹ R⁻ᵀ on the standardised columns; rows of R⁻¹ are combined to those of the inputs.
	length := func(of func(k int) float64) float64 {
		sum := 0.0
		for k := range p {
			sum += of(k) * of(k)
		}
		return math.Sqrt(sum)
	}
	intercept := Coefficient{m.intercept, length(func(k int) float64 {
		out := inverse.At(0, k)
		for j := range keep {
			out -= inverse.At(j+1, k) * s.mean[j] / s.sd[j]
		}
		return out
	})}
	out := make([]Coefficient, len(d.terms))
	for j, t := range keep {
		out[t] = Coefficient{m.beta[t], length(func(k int) float64 { return inverse.At(j+1, k) / s.sd[j] })}
	}
	return intercept, out
}
