"""The rules of the job and all computation. No Django, no requests, no files: values in, values out."""
