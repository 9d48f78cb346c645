from server.compare.exports.files import as_csv, as_docx, as_tsv, as_xlsx
from server.compare.exports.hidden import holdings_hidden, together_hidden
from server.compare.exports.overview import holdings_tidy, holdings_tsv, holdings_xlsx, progress_xlsx
from server.compare.exports.passages import lines_of_comparison, lines_of_query, passages_docx, passages_xlsx
from server.compare.exports.tables import sentence_of
from server.compare.exports.tidy import as_tidy
from server.compare.exports.together import together_csv, together_tidy, together_tsv, together_xlsx

__all__ = [
    "as_csv",
    "as_docx",
    "as_tidy",
    "as_tsv",
    "as_xlsx",
    "holdings_hidden",
    "holdings_tidy",
    "holdings_tsv",
    "holdings_xlsx",
    "lines_of_comparison",
    "lines_of_query",
    "passages_docx",
    "passages_xlsx",
    "progress_xlsx",
    "sentence_of",
    "together_csv",
    "together_hidden",
    "together_tidy",
    "together_tsv",
    "together_xlsx",
]
