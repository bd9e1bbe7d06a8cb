"""Orders go through while web servers, worker and back office are killed; ``make test-faults`` is the long run.

It stands last of its folder: it leaves orders behind.
"""

from ops import faults
from ops.stack import Stack

PARTS = ["web child", "web", "worker", "backoffice"]


def test_every_order_arrives_once_while_everything_is_killed(stack: Stack) -> None:
    faults.by_themselves(stack)
    before = faults.census(stack)
    tally = faults.put_to_the_test(stack, orders=5, kills=14, parts=PARTS, people=3, seed=7)
    faults.settle(stack, before)
    account = faults.counted(stack, tally, before)
    said: list[str] = []
    faults.report(tally, account, 0, said.append)
    assert account.right, "\n".join(said + faults.unpaid(stack, tally))
    assert tally.kills.total() == 14
    stack.manage("check_figures")
    stack.wait_for_health()
