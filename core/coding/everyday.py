"""Words of everyday speech: they say something, but no topic by themselves. Within a phrase they do: the *last* boat."""

# Common practice in lists of words; made for this, from what people say whatever they talk about.
_WORDS = {
    "english": """say said says saying come came comes coming go going gone went goes know knew known knows think thought thinks
        thinking tell told telling tells see saw seen sees seeing look looked looks looking put puts putting make made makes making
        take took taken takes taking give gave given gives giving want wanted wants need needed needs ask asked asks asking hear
        heard sit sat sits sitting stand stood standing keep kept keeps let lets find found feel felt feels feeling thing things
        way ways lot lots bit kind sort sorts part one ones two three four five six seven eight nine ten eleven twelve thirteen
        fourteen fifteen sixteen seventeen eighteen nineteen twenty thirty forty fifty sixty hundred thousand half quarter past
        first second third last next day days week weeks month months year years time times minute minutes hour hours morning
        mornings evening evenings night nights afternoon noon today tomorrow yesterday monday tuesday wednesday thursday friday
        saturday sunday january february march april may june july august september october november december people person
        somebody someone anybody anyone nobody everybody everyone nothing anything everything somewhere nowhere man men woman
        women never always every often sometimes usually back away without much many good nice fine bad well use used using leave
        left leaves leaving call called calls talk talked talking start started starts end ended try tried trying mean means meant
        turn turned turns work works worked working happen happened happens old new little big long short small whole enough
        better best worse like likes liked sure maybe perhaps else whatever around across along till until since yet ever rather
        instead together another different same place places point stay stayed show showed shown gets getting gone live lived
        remember bring brought run runs ran word words name names laughs laugh pause hand hands eye eyes face""",
    "german": """sagen sage sagst sagt sagte sagten gesagt kommen komme kommst kommt kam kamen gekommen gehen gehe gehst geht
        ging gingen gegangen wissen weiß weißt wusste wussten gewusst denken denke denkt dachte gedacht erzählen erzählt
        erzählte sehen sehe siehst sieht sah sahen gesehen schauen schaut geschaut machen mache machst macht machte gemacht
        nehmen nimmt nahm genommen geben gibt gab gegeben wollen will willst wollte wollten brauchen brauche braucht brauchte
        fragen frage fragt fragte gefragt hören höre hört gehört sitzen sitzt saß stehen steht stand finden finde findet fand
        gefunden fühlen fühlt ding dinge sache sachen art teil eins zwei drei vier fünf sechs sieben acht neun zehn elf zwölf
        zwanzig dreißig vierzig fünfzig hundert tausend halb halbe viertel erste ersten zweite letzte letzten nächste nächsten
        tag tage tagen woche wochen monat monate jahr jahre jahren zeit mal male minute minuten stunde stunden morgen morgens
        abend abends nacht mittag nachmittag heute gestern montag dienstag mittwoch donnerstag freitag samstag sonntag januar
        februar märz april mai juni juli august september oktober november dezember leute person personen jemand niemand jeder
        jede mann männer frau frauen nie immer oft manchmal zurück weg ohne viel viele vielen gut gute guten schlecht lassen
        lässt ließ anfangen angefangen aufhören versuchen arbeiten arbeitet alt alte neu neue neuen klein kleine groß große
        lang lange ganze ganzen genug besser gern gerne sicher vielleicht wohl wieder einmal zusammen andere anderen anders
        gleich ort stelle wort worte name hand hände auge augen gesicht lacht pause müssen muss musste können kann konnte
        sollen soll sollte werden wird wurde bleiben bleibt blieb tun tut getan eigentlich natürlich richtig einfach""",
}  # fmt: skip
EVERYDAY = {language: frozenset(words.split()) for language, words in _WORDS.items()}
"""By language, folded; none for languages that aren’t here."""
