"""Put it right: the least that clears everything, what it costs, and what cannot be had together.

Lever    one thing that can be turned, moved, bought, cut or given up, with its settings; `levers` makes a station's.
Setting  one value of a lever that a person can set: half a turn, a millimetre, a size that is sold.
Set      some levers together; what they cost does not depend on how far each is moved.
Trial    a station with some levers set, solved and judged (`trial`).
Plan     levers with their settings that leave no fault, in the order of cost (`search`, `plans`).
Wish     what the job asks for: travel, height. A lever that gives one up is asked only where nothing else helps.
"""
