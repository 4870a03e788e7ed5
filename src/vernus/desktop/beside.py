"""Long work in a thread of its own while the window waits for it alive."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import partial
from typing import Any, TypeVar

from PySide6.QtCore import QEventLoop, QMetaObject, Qt

T = TypeVar("T")


def beside(act: Callable[[], T]) -> T:
    """What ``act`` comes to, worked out in a thread of its own while the window goes on being painted.

    Keys, clicks and the instrument wait meanwhile, in their order. What ``act`` raises is raised here.
    """
    loop, came = QEventLoop(), list[Callable[[], T]]()

    def run() -> None:
        try:
            result = act()
            came.append(lambda: result)
        except BaseException as error:  # noqa: BLE001 - it is raised where it is waited for
            came.append(partial(_raise, error))
        QMetaObject.invokeMethod(loop, "quit", Qt.ConnectionType.QueuedConnection)

    thread = threading.Thread(target=run, daemon=True)
    thread.start()
    waiting = QEventLoop.ProcessEventsFlag
    loop.exec(waiting.ExcludeUserInputEvents | waiting.ExcludeSocketNotifiers)
    thread.join()
    return came[0]()


def _raise(error: BaseException) -> Any:
    raise error
