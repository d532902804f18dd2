"""The two graph algorithms that cut a linkage into blocks, on graphs of some dozens of nodes.

scipy.sparse.csgraph has both; loading it takes longer than solving a corner (docs/decisions/0005).
"""


def matching(touched: list[frozenset[int]], columns: int) -> list[int]:
    """Return for each column the row matched with it; every column has one. Kuhn's augmenting paths.

    touched : for each row the columns it may be matched with, as many rows as columns
    """
    owner = [-1] * columns

    def seek(row: int, seen: set[int]) -> bool:
        for column in sorted(touched[row]):
            if column not in seen:
                seen.add(column)
                if owner[column] < 0 or seek(owner[column], seen):
                    owner[column] = row
                    return True
        return False

    for row in range(len(touched)):
        seek(row, set())
    return owner


def components(edges: list[frozenset[int]]) -> list[int]:
    """Return each node's strongly connected component as a number. Tarjan (1972), without recursion.

    edges : for each node the nodes it points at
    """
    count = len(edges)
    order, low, label = [-1] * count, [0] * count, [-1] * count
    stack: list[int] = []
    clock = found = 0
    for root in range(count):
        if order[root] >= 0:
            continue
        work = [(root, iter(sorted(edges[root])))]
        order[root] = low[root] = clock
        clock += 1
        stack.append(root)
        while work:
            node, following = work[-1]
            onward = next((n for n in following if order[n] < 0 or label[n] < 0), None)
            if onward is not None and order[onward] < 0:
                order[onward] = low[onward] = clock
                clock += 1
                stack.append(onward)
                work.append((onward, iter(sorted(edges[onward]))))
            elif onward is not None:
                low[node] = min(low[node], order[onward])
            else:
                work.pop()
                if work:
                    low[work[-1][0]] = min(low[work[-1][0]], low[node])
                if low[node] == order[node]:
                    while True:
                        member = stack.pop()
                        label[member] = found
                        if member == node:
                            break
                    found += 1
    return label
