"""What the methods rest on: papers and books, as they stand at the end of an account, and as BibTeX."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import msgspec

from bright_tether.words.said import listed


class Reference(msgspec.Struct, frozen=True):
    """One paper or book. where : journal, or publisher; at : volume and pages, "" for a book."""

    key: str
    authors: tuple[tuple[str, str], ...]
    year: int
    title: str
    where: str
    at: str = ""

    @property
    def short(self) -> str:
        """As it is called in the text: White 1980."""
        names = [family for family, _ in self.authors]
        return f"{names[0]} et al. {self.year}" if len(names) > 2 else f"{' & '.join(names)} {self.year}"

    @property
    def line(self) -> str:
        """As it stands in the list."""
        names = listed(f"{family}, {given}" for family, given in self.authors)
        return f"{names} ({self.year}). {self.title}. {self.where}{f' {self.at}' if self.at else ''}."


def _paper(key: str, authors: str, year: int, title: str, where: str, at: str = "") -> Reference:
    named = tuple((one.split(",")[0].strip(), one.split(",")[1].strip()) for one in authors.split(";"))
    return Reference(key, named, year, title, where, at)


_ALL = (
    _paper("fisher1921", "Fisher, R. A.", 1921,
           "On the “probable error” of a coefficient of correlation deduced from a small sample", "Metron", "1, 3–32"),
    _paper("bonett2000", "Bonett, D. G.; Wright, T. A.", 2000,
           "Sample size requirements for estimating Pearson, Kendall and Spearman correlations", "Psychometrika",
           "65, 23–28"),
    _paper("kendall1990", "Kendall, M. G.; Gibbons, J. D.", 1990, "Rank Correlation Methods, 5th edition",
           "Edward Arnold, London"),
    _paper("white1980", "White, H.", 1980, "A heteroskedasticity-consistent covariance matrix estimator and a direct "
           "test for heteroskedasticity", "Econometrica", "48, 817–838"),
    _paper("mackinnon1985", "MacKinnon, J. G.; White, H.", 1985, "Some heteroskedasticity-consistent covariance matrix "
           "estimators with improved finite sample properties", "Journal of Econometrics", "29, 305–325"),
    _paper("newey1987", "Newey, W. K.; West, K. D.", 1987, "A simple, positive semi-definite, heteroskedasticity and "
           "autocorrelation consistent covariance matrix", "Econometrica", "55, 703–708"),
    _paper("liang1986", "Liang, K.-Y.; Zeger, S. L.", 1986, "Longitudinal data analysis using generalized "
           "linear models",
           "Biometrika", "73, 13–22"),
    _paper("efron1981", "Efron, B.; Stein, C.", 1981, "The jackknife estimate of variance", "Annals of Statistics",
           "9, 586–596"),
    _paper("holm1979", "Holm, S.", 1979, "A simple sequentially rejective multiple test procedure",
           "Scandinavian Journal of Statistics", "6, 65–70"),
    _paper("koenker1981", "Koenker, R.", 1981, "A note on studentizing a test for heteroscedasticity",
           "Journal of Econometrics", "17, 107–112"),
    _paper("durbin1950", "Durbin, J.; Watson, G. S.", 1950, "Testing for serial correlation in least squares "
           "regression: I", "Biometrika", "37, 409–428"),
    _paper("cook1977", "Cook, R. D.", 1977, "Detection of influential observation in linear regression",
           "Technometrics", "19, 15–18"),
    _paper("schuirmann1987", "Schuirmann, D. J.", 1987, "A comparison of the two one-sided tests procedure and the "
           "power approach for assessing the equivalence of average bioavailability",
           "Journal of Pharmacokinetics and Biopharmaceutics", "15, 657–680"),
    _paper("chow1960", "Chow, G. C.", 1960, "Tests of equality between sets of coefficients in two linear regressions",
           "Econometrica", "28, 591–605"),
    _paper("fieller1957", "Fieller, E. C.; Hartley, H. O.; Pearson, E. S.", 1957,
           "Tests for rank correlation coefficients. I", "Biometrika", "44, 470–481"),
    _paper("bland1999", "Bland, J. M.; Altman, D. G.", 1999, "Measuring agreement in method comparison studies",
           "Statistical Methods in Medical Research", "8, 135–160"),
    _paper("efron1987", "Efron, B.", 1987, "Better bootstrap confidence intervals",
           "Journal of the American Statistical Association", "82, 171–185"),
    _paper("wilcox1994", "Wilcox, R. R.", 1994, "The percentage bend correlation coefficient", "Psychometrika",
           "59, 601–616"),
    _paper("carroll1988", "Carroll, R. J.; Ruppert, D.", 1988, "Transformation and Weighting in Regression",
           "Chapman & Hall, New York"),
    _paper("lei2018", "Lei, J.; G’Sell, M.; Rinaldo, A.; Tibshirani, R. J.; Wasserman, L.", 2018,
           "Distribution-free predictive inference for regression", "Journal of the American Statistical Association",
           "113, 1094–1111"),
    _paper("stone1974", "Stone, M.", 1974, "Cross-validatory choice and assessment of statistical predictions",
           "Journal of the Royal Statistical Society B", "36, 111–147"),
    _paper("fan1996", "Fan, J.; Gijbels, I.", 1996, "Local Polynomial Modelling and Its Applications",
           "Chapman & Hall, London"),
    _paper("hyndman1996", "Hyndman, R. J.; Fan, Y.", 1996, "Sample quantiles in statistical packages",
           "The American Statistician", "50, 361–365"),
)  # fmt: skip
REFERENCES = {one.key: one for one in _ALL}


def cited(*keys: str) -> str:
    """References in brackets, as they stand behind what rests on them."""
    return f"({'; '.join(REFERENCES[key].short for key in keys)})"


def named(*keys: str) -> str:
    """References in a row, as a sentence takes them up."""
    return listed(REFERENCES[key].short for key in keys)


def bibtex(references: Iterable[Reference]) -> str:
    """The same for programs that set papers."""
    parts = []
    for one in references:
        authors = " and ".join(f"{family}, {given}" for family, given in one.authors)
        fields = {"author": authors, "year": str(one.year), "title": f"{{{_tex(one.title)}}}"}
        if one.at:
            volume, pages = one.at.split(", ")
            fields |= {"journal": _tex(one.where), "volume": volume, "pages": pages.replace("–", "--")}
        else:
            fields["publisher"] = _tex(one.where)
        body = ",\n".join(f"  {name} = {{{value}}}" for name, value in fields.items())
        parts.append(f"@{'article' if one.at else 'book'}{{{one.key},\n{body}\n}}\n")
    return "\n".join(parts)


def csl(references: Iterable[Reference]) -> list[dict[str, Any]]:
    """The same as CSL JSON, for programs that keep references."""
    items = []
    for one in references:
        item: dict[str, Any] = {
            "id": one.key, "type": "article-journal" if one.at else "book", "title": one.title,
            "author": [{"family": family, "given": given} for family, given in one.authors],
            "issued": {"date-parts": [[one.year]]},
        }  # fmt: skip
        if one.at:
            volume, pages = one.at.split(", ")
            item |= {"container-title": one.where, "volume": volume, "page": pages}
        else:
            publisher, place = one.where.split(", ")
            item |= {"publisher": publisher, "publisher-place": place}
        items.append(item)
    return items


def _tex(text: str) -> str:
    return text.replace("“", "``").replace("”", "''").replace("&", r"\&")
