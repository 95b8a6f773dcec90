package value

import (
	"math"
	"math/big"
	"strconv"
	"strings"
)

// FormatNumber prints a number as ECMA-262's Number::toString in base 10 does.
func FormatNumber(x float64) string {
	if x == math.Trunc(x) && math.Abs(x) < 1e15 {
		return strconv.FormatInt(int64(x), 10)
	}
	s := strconv.FormatFloat(x, 'e', -1, 64)
	sign := ""
	if s[0] == '-' {
		sign, s = "-", s[1:]
	}
	mantissa, exp, _ := strings.Cut(s, "e")
	digits := strings.Replace(mantissa, ".", "", 1)
	e, _ := strconv.Atoi(exp)
	k, n := len(digits), e+1
	switch {
	case k <= n && n <= 21:
		return sign + digits + strings.Repeat("0", n-k)
	case 0 < n && n <= 21:
		return sign + digits[:n] + "." + digits[n:]
	case -6 < n && n <= 0:
		return sign + "0." + strings.Repeat("0", -n) + digits
	}
	mark := "e+"
	if n-1 < 0 {
		mark = "e-"
	}
	if k > 1 {
		digits = digits[:1] + "." + digits[1:]
	}
	return sign + digits + mark + strconv.Itoa(max(n-1, 1-n))
}

// ParseNumber reads a string as ECMA-262's StringToNumber does, save that an
// empty string and infinities are no numbers.
func ParseNumber(s string) (float64, bool) {
	s = Trim(s)
	if len(s) > 2 && s[0] == '0' {
		base := map[byte]int{'x': 16, 'X': 16, 'o': 8, 'O': 8, 'b': 2, 'B': 2}[s[1]]
		if base != 0 {
			n, ok := new(big.Int).SetString(s[2:], base)
			if !ok || strings.ContainsAny(s[2:], "+-_") {
				return 0, false
			}
			f, _ := new(big.Float).SetInt(n).Float64()
			return f, !math.IsInf(f, 0)
		}
	}
	for i := 0; i < len(s); i++ {
		if !strings.ContainsRune("0123456789.eE+-", rune(s[i])) {
			return 0, false
		}
	}
	f, err := strconv.ParseFloat(s, 64)
	if err != nil || math.IsInf(f, 0) || !strings.ContainsAny(s, "0123456789") {
		return 0, false
	}
	return f + 0, true
}

// ToFixed prints x with n decimals, as ECMA-262's Number.prototype.toFixed
// does: halves go to the larger magnitude.
func ToFixed(x float64, n int) string {
	if math.Abs(x) >= 1e21 {
		return FormatNumber(x)
	}
	sign := ""
	if x < 0 {
		sign, x = "-", -x
	}
	exact := new(big.Rat).SetFloat64(x)
	scale := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(n)), nil)
	exact.Mul(exact, new(big.Rat).SetInt(scale))
	exact.Add(exact, big.NewRat(1, 2))
	digits := new(big.Int).Quo(exact.Num(), exact.Denom()).String()
	if n == 0 {
		return sign + digits
	}
	if len(digits) <= n {
		digits = strings.Repeat("0", n+1-len(digits)) + digits
	}
	return sign + digits[:len(digits)-n] + "." + digits[len(digits)-n:]
}

// Round is ECMA-262's Math.round: halves go towards positive infinity.
func Round(x float64) float64 {
	floor := math.Floor(x)
	if x-floor >= 0.5 {
		floor++
	}
	return floor
}
