"""The command line, called in this process."""

import json

import pytest

from vernus.cli.main import main


@pytest.fixture
def run(capsys):
    def run_it(*words):
        code = main([str(w) for w in words])
        out, err = capsys.readouterr()
        assert "Traceback" not in err
        return code, out, err

    return run_it


@pytest.fixture
def answer(run):
    def parsed(*words):
        code, out, err = run("calc", *words, "--json")
        assert (code, err) == (0, "")
        assert "NaN" not in out
        assert "Infinity" not in out
        return json.loads(out)

    return parsed
