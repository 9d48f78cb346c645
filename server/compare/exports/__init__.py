from server.compare.exports.files import as_csv, as_docx, as_xlsx
from server.compare.exports.hidden import with_small_hidden
from server.compare.exports.passages import passages_docx, passages_xlsx
from server.compare.exports.tables import sentence_of

__all__ = ["as_csv", "as_docx", "as_xlsx", "passages_docx", "passages_xlsx", "sentence_of", "with_small_hidden"]
