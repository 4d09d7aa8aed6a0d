// What the definitions say, where it was once done otherwise: a sentence, a house in which it matters, a trial that shows it.
import { createEngine, Journal, parseHouse, type Run, runTrials } from "modrik";
import { describe, expect, test } from "vitest";

const head = 'house "H" { clock "Europe/Zurich" }\n';

const houses: readonly (readonly [law: string, ...house: string[]])[] = [
  [
    "a held value that moves follows what changes it",
    "zone z { sensor t: °C, smooth over 5 min sensor u: °C output valve: 0..100 % output lamp : 0..100 % }",
    "rule q { keep z.t at 20 °C raise with z.valve in proportion over 4 K }",
    "rule r { hold z.lamp at scale(mean(z.u over 5 min), 16..24 °C to 0..100 %) }",
    "trial t { from 2026-03-14 08:00 for 2 h given z.t is 18 °C, z.u is 18 °C at 08:10 z.t is 20 °C at 08:10 z.u is 20 °C expect z.valve at most 1 % at 08:20 expect z.lamp at least 49 % at 08:20 }",
  ],
  [
    "a keep never drives both ways: a person who would make its targets cross is refused, with the numbers",
    "zone z { sensor t: °C sensor go: press output heater: on/off output cooler: on/off dial low: 10..30 °C, at first 19 °C dial high: 10..30 °C, at first 24 °C dial margin: 0..2 K, at first 0 K }",
    "rule r { keep z.t between z.low and z.high ± 0.5 K raise with z.heater lower with z.cooler }",
    'trial t { from 2026-03-14 08:00 for 1 h given z.t is 25 °C at 08:10 person sets z.low to 26 °C expect z.low is 19 °C at 08:11 expect problem "refused" at 08:10 expect z.cooler is on from 08:10 }',
    'trial both { from 2026-03-14 08:00 for 1 h given z.t is 25 °C at 08:10 person sets z.low to 26 °C at 08:10 person sets z.high to 28 °C expect z.low is 26 °C at 08:11 expect never problem "refused" expect z.heater is on from 08:10 }',
  ],
  [
    "steps and presets that would make targets cross are refused, a preset as one, and a value goes back all the same",
    "zone z { sensor t: °C sensor go: press output heater: on/off output cooler: on/off dial low: 10..30 °C, at first 19 °C dial high: 10..30 °C, at first 24 °C dial margin: 0..2 K, at first 0 K }",
    "rule r { keep z.t between z.low and z.high ± 0.5 K raise with z.heater lower with z.cooler }",
    "preset warm { z.low at 26 °C, z.high at 29 °C }",
    "preset wrong { z.low at 22 °C, z.high at 21 °C, z.cooler at on }",
    "rule s { when at 08:10 do { set z.low to 25 °C } }",
    "rule p { when at 08:20 do { apply wrong } }",
    "rule w { when at 08:30 do { apply warm for 10 min } }",
    'trial t { from 2026-03-14 08:00 for 1 h given z.t is 22 °C expect z.low is 19 °C from 08:00 to 08:30 expect problem "refused" at 08:10 expect problem "refused" at 08:20 expect z.cooler is off from 08:00 to 08:30 expect z.heater is on from 08:30 to 08:40 expect z.low is 19 °C from 08:40 expect z.high is 24 °C from 08:40 expect count(problem "refused") at most 2 }',
  ],
  [
    "while the targets of a keep cross through what it reads it asks for nothing, and says so once",
    "zone z { sensor t: °C sensor wish: °C output heater: on/off output cooler: on/off }",
    "rule r { keep z.t between z.wish and 22 °C ± 0.5 K raise with z.heater lower with z.cooler }",
    'trial t { from 2026-03-14 08:00 for 1 h given z.t is 25 °C, z.wish is 19 °C at 08:10 z.wish is 24 °C at 08:20 z.wish is 25 °C at 08:30 z.wish is 20 °C expect z.cooler is on from 08:00 to 08:10 expect z.cooler is off from 08:10 to 08:30 expect z.heater is off expect z.cooler is on from 08:30 expect problem "crossing-targets" at 08:10 expect count(problem "crossing-targets") at most 1 }',
  ],
  [
    "a margin that turns a band inside out is one that crosses",
    "zone z { sensor t: °C sensor go: press output heater: on/off output cooler: on/off dial low: 10..30 °C, at first 19 °C dial high: 10..30 °C, at first 24 °C dial margin: 0..2 K, at first 0 K }",
    "rule r { keep z.t between z.low and z.high ± z.margin..0.7 K raise with z.heater lower with z.cooler }",
    'trial t { from 2026-03-14 08:00 for 1 h given z.t is 19.2 °C at 08:10 person sets z.margin to 0.5 K expect problem "refused" at 08:10 expect never z.heater is on }',
  ],
  [
    "what is kept is switched off too where it rests on",
    "zone z { sensor t: °C output heater: on/off, at rest on output cooler: on/off, at rest on }",
    "rule r { while z.t below 30 °C keep z.t at 20 °C ± 1 K raise with z.heater }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.t is 18 °C at 08:10 z.t is 21.5 °C at 08:20 z.t is 18.5 °C at 08:30 z.t is 31 °C at 08:40 z.t is 22 °C at 08:50 z.t is unknown expect z.heater is on from 08:00 to 08:10 expect z.heater is off from 08:10 to 08:20 expect z.heater is on from 08:20 to 08:40 expect z.heater is off from 08:40 to 08:50 expect z.heater is on from 08:50 }",
  ],
  [
    "never together: the strongest has its way, of equals the one named first, and the others rest long enough before it",
    "zone z { sensor a: yes/no sensor b: yes/no output heater: on/off output cooker: on/off, on at least 10 min }",
    "rule one { while z.a is yes hold z.heater at on }",
    "rule two { while z.b is yes hold z.cooker at on }",
    "guard g { never together z.heater, z.cooker, 3 min apart }",
    "trial both { from 2026-03-14 08:00 for 1 h given z.a is no, z.b is no at 08:10 z.a is yes at 08:10 z.b is yes at 08:20 z.a is no expect z.heater is on from 08:10 to 08:20 expect z.cooker is off from 08:00 to 08:23 expect z.cooker is on from 08:23 }",
    "trial stopped { from 2026-03-14 08:00 for 1 h given z.a is no, z.b is yes at 08:10 z.a is yes expect z.cooker is on from 08:00 to 08:10 expect z.cooker is off from 08:10 expect z.heater is on from 08:13 expect z.heater is off from 08:10 to 08:13 }",
    "trial yields { from 2026-03-14 08:00 for 1 h given z.a is no, z.b is no at 08:10 z.b is yes at 08:12 z.b is no at 08:14 z.a is yes expect z.cooker is on from 08:10 to 08:14 expect z.cooker is off from 08:14 expect z.heater is on from 08:17 }",
    'trial by_hand { from 2026-03-14 08:00 for 1 h given z.a is yes, z.b is no at 08:10 person sets z.cooker to on for 10 min expect z.heater is off from 08:10 to 08:23 expect z.cooker is on from 08:13 to 08:20 expect z.heater is on from 08:23 expect never problem "not-permitted" }',
    "trial restarted { from 2026-03-14 08:00 for 1 h given z.a is no, z.b is yes at 08:10 z.a is yes at 08:11 the house restarts expect z.heater is on from 08:13 expect z.heater is off from 08:10 to 08:13 }",
    "trial from_cold { from 2026-03-14 08:00 for 1 h cold given z.a is yes, z.b is no expect z.heater is off from 08:00 to 08:03 expect z.heater is on from 08:03 }",
  ],
  [
    "a house that is down across a moment hears its sensors as it comes up, and makes up for the moment",
    "zone z { sensor lux: lx output lamp: on/off }",
    'rule s { when at 08:11 do { tell "x" } }',
    "rule a { while z.lux below 600 lx hold z.lamp at on }",
    'trial t { from 2026-03-14 08:00 to 09:00 given z.lux is 500 lx at 08:10:30 the house is down for 2 min expect told "x" at 08:12:30 expect z.lamp is on at 08:15 }',
  ],
  [
    "a message to a press presses it",
    "zone z { sensor bell: press output fan: on/off }",
    'wire mqtt { z.bell from "x/bell" }',
    "rule r { when z.bell is pressed do { set z.fan to on for 1 min } }",
    'trial t { from 2026-03-14 08:00 to 09:00 at 08:05 message "x/bell" reads "1" expect z.fan is on from 08:05 to 08:06 expect z.fan is off from 08:06 }',
  ],
  [
    "outputs of different kinds go to rest together",
    "zone z { sensor go: press output lamp: 0..100 %, at rest 5 % output fan: on/off output valve: open/shut, at rest shut }",
    "group all = z.lamp, z.fan, z.valve",
    "rule on { when the house starts do { set z.lamp to 60 % set z.fan to on set z.valve to open } }",
    "rule r { when z.go is pressed do { set all to rest } }",
    "trial t { from 2026-03-14 08:00 for 1 h at 08:05 the house restarts at 08:10 z.go is pressed expect z.fan is on at 08:09 expect z.lamp is 5 % at 08:10 expect z.fan is off at 08:10 expect z.valve is shut at 08:10 expect z.lamp is not rest at 08:09 expect z.lamp is rest from 08:10 }",
  ],
  [
    "what is set until a state lasts no longer than its longest time, a dial too",
    "zone z { sensor door: open/closed output lamp: on/off dial d: 1..9, at first 1 }",
    "rule r { when at 08:10 do { set z.lamp to on until z.door is closed, at most 5 min set z.d to 7 until z.door is closed, at most 10 min } }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.door is open expect z.lamp is on from 08:10 to 08:15 expect z.lamp is off from 08:15 expect z.d is 7 from 08:10 to 08:20 expect z.d is 1 from 08:20 }",
    "trial sooner { from 2026-03-14 08:00 for 1 h given z.door is open at 08:12 z.door is closed expect z.lamp is off from 08:12 expect z.d is 1 from 08:12 }",
  ],
  [
    "a preset is applied for a time, its dials and outputs alike",
    "zone z { sensor door: open/closed output lamp: on/off output fan: on/off dial d: 1..9, at first 1 dial e: 1..9, at first 2 }",
    "preset cosy { z.lamp at on, z.d at 5, z.fan at on, z.e at 6 }",
    "rule r { when at 08:10 do { apply cosy for 5 min } }",
    "rule q { when at 08:30 do { apply cosy until z.door is open, at most 20 min } }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.door is closed expect z.lamp is on from 08:10 to 08:15 expect z.fan is off from 08:15 to 08:30 expect z.d is 5 from 08:10 to 08:15 expect z.d is 1 from 08:15 to 08:30 expect z.e is 6 at 08:14 expect z.e is 2 at 08:16 expect z.fan is on from 08:30 to 08:50 expect z.e is 2 from 08:50 }",
    "trial opened { from 2026-03-14 08:25 for 30 min given z.door is closed at 08:35 z.door is open expect z.lamp is off from 08:35 expect z.e is 2 from 08:35 }",
  ],
  [
    "a dose that is broken off ends its steps, after those of its otherwise",
    "zone z { sensor wet: wet/dry output pump: on/off, delivers 10 ml/s }",
    "guard dry { permit z.pump on only while z.wet is wet }",
    'rule r { when at 08:10 or when at 08:20 do { dose z.pump 200 ml otherwise { tell "Only {z.pump.last_amount}" } tell "Gave {z.pump.last_amount}" } }',
    'trial t { from 2026-03-14 08:00 for 1 h given z.wet is wet at 08:10:05 z.wet is dry at 08:15 z.wet is wet expect told "Only 50 ml" at 08:10:05 expect never told "Gave" from 08:00 to 08:20 expect told "Gave 200 ml" at 08:20:20 expect count(told "Only") at most 1 }',
    'trial whole { from 2026-03-14 08:00 to 08:19 given z.wet is wet at 08:10:20 z.wet is dry expect told "Gave 200 ml" at 08:10:20 expect never told "Only" }',
    'trial down { from 2026-03-14 08:00 to 08:19 given z.wet is wet at 08:10:05 the house is down for 1 min expect told "Only 50 ml" at 08:11:05 expect never told "Gave" }',
    'trial never { from 2026-03-14 08:00 to 08:19 given z.wet is dry expect told "Only 0 ml" at 08:10 expect never told "Gave" }',
  ],
  [
    "a countdown says how long it still runs",
    "zone z { output lamp: on/off }",
    "countdown c = 10 min",
    "rule r { while c is running and c.remaining at most 3 min hold z.lamp at on }",
    "trial t { from 2026-03-14 08:00 for 1 h at 08:10 person starts c expect z.lamp is off from 08:00 to 08:17 expect z.lamp is on from 08:17 to 08:20 expect z.lamp is off from 08:20 expect c.remaining is 0 s at 08:30 }",
    "trial restarted { from 2026-03-14 08:00 for 1 h at 08:10 person starts c at 08:14 the house restarts expect z.lamp is on from 08:17 to 08:20 }",
  ],
  [
    "a window that is kept in proportion follows its signal",
    "zone z { sensor t: °C output lamp: 0..100 % }",
    "rule r { keep max(z.t over 5 min) at 20 °C raise with z.lamp in proportion over 4 K }",
    "trial t { from 2026-03-14 08:00 for 2 h given z.t is 18 °C at 08:10 z.t is 20 °C expect z.lamp at most 0 % at 08:20 }",
  ],
  [
    "a wait for a moment that begins in such a moment waits for the next",
    "zone z { output lamp: on/off }",
    "countdown c = 5 min",
    'rule r { when c ends do { tell "one" start c wait until c ends tell "two" } }',
    "rule s { when c ends do { set z.lamp to on until c ends } if triggered again, ignore }",
    'trial t { from 2026-03-14 08:00 for 1 h at 08:00 person starts c expect told "two" by 08:10 }',
  ],
  [
    "what lasts until a moment, begun in such a moment, lasts until the next",
    "zone z { output lamp: on/off sensor go: press }",
    "countdown c = 5 min",
    "rule s { when c ends do { if z.lamp is off { start c set z.lamp to on until c ends } } }",
    "trial t { from 2026-03-14 08:00 for 1 h at 08:00 person starts c expect z.lamp is on from 08:05 to 08:10 expect z.lamp is off from 08:10 }",
  ],
  [
    "a stuck sensor that is to move does not",
    "zone z { sensor h: %RH output heater: on/off }",
    "trial t { from 2026-03-14 08:00 for 45 min given z.h is 45 %RH at 08:02 z.h sticks from 08:10 to 08:15 z.h moves to 40 %RH expect z.heater is off }",
  ],
  [
    "a house that is down past the end of its trial is judged as it was",
    "zone z { output pump: on/off }",
    "trial t { from 2026-03-14 08:00 for 1 h at 08:50 the house is down for 20 min expect z.pump is off }",
  ],
  [
    "a house that is down while something asks for obedience comes up again",
    "zone z { sensor t: °C output pump: on/off }",
    'rule r { when z.pump disobeys do { tell "stuck" } }',
    "trial t { from 2026-03-14 08:00 for 1 h given z.t is 20 °C at 08:10:30 the house is down for 5 min expect z.pump is off }",
  ],
  [
    "a house that is down cannot go down again",
    "zone z { output pump: on/off }",
    "trial t { from 2026-03-14 08:00 for 2 h at 08:10 the house is down for 20 min at 08:20 the house restarts expect z.pump is off }",
  ],
  [
    "a smoothed sensor is silent when what it smooths is",
    "zone z { sensor t: °C, unknown after 2 min, smooth over 10 min output heater: on/off }",
    'rule r { when z.t becomes unknown do { tell "gone" } }',
    "rule h { while z.t above 10 °C hold z.heater at on }",
    'trial t { from 2026-03-14 08:00 for 1 h given z.t is 20 °C at 08:10 z.t falls silent expect z.heater is off from 08:12 expect told "gone" by 08:12 }',
  ],
  [
    "the mean of what has been so for ever is that",
    "zone z { sensor h: %RH output fan: on/off output lamp: on/off }",
    "rule a { while mean(z.h over 5 min) above 70 %RH hold z.fan at on }",
    "rule b { while mean(z.h over 5 min) at most 70 %RH hold z.lamp at on }",
    "trial t { from 2026-03-14 08:00 for 10 min given z.h is 70 %RH expect z.fan is off from 08:00 expect z.lamp is on from 08:00 }",
  ],
  [
    "while the house is down an output does what it does without control",
    "zone z { output horn: on/off, on when control is lost }",
    "trial t { from 2026-03-14 08:00 for 1 h at 08:10 the house is down for 10 min expect z.horn is on at 08:15 expect count(z.horn is on) at least 1 }",
  ],
  [
    "what is unknown in a timeline is unknown at once",
    "zone z { sensor door: open/closed output lamp: on/off }",
    "rule r { while z.door is open hold z.lamp at on }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.door is open at 08:10 z.door is unknown expect z.lamp is off at 08:20 }",
  ],
  [
    "a notice is seen in the instant in which an output is confirmed",
    "zone z { sensor go: press output lamp: on/off output fan: on/off }",
    'rule r { when z.go is pressed do { set z.lamp to on tell "hello" } }',
    'rule d { when z.fan disobeys do { tell "stuck" } }',
    'trial t { from 2026-03-14 08:00 for 1 h at 08:10 z.go is pressed expect told "hello" at 08:10 }',
  ],
  [
    "what has happened does not happen again when the clock is put back, after a restart neither",
    "zone z { output lamp: on/off }",
    'rule r { when at 08:15 do { tell "once" } }',
    'trial t { from 2026-03-14 08:00 for 2 h at 08:20 the clock jumps by -30 min at 08:25 the house restarts expect count(told "once") at most 1 }',
  ],
  [
    "a person is told what a guard refuses when the instant is decided",
    "zone z { sensor door: open/closed output lamp: 0..100 % output fan: on/off }",
    "guard g { permit z.lamp above 50 % only while z.door is closed }",
    "guard f { permit z.fan on only while clock from 08:20 to 09:00 }",
    'trial t { from 2026-03-14 08:00 for 1 h given z.door is open at 08:10 person sets z.lamp to 80 % at 08:20 person sets z.fan to on expect problem "not-permitted" at 08:10 expect count(problem "not-permitted") at most 1 }',
  ],
  [
    "a refused reading is noted once, whatever restarts",
    "zone z { sensor h: %RH, 0..100 %RH output fan: on/off }",
    'trial t { from 2026-03-14 08:00 for 1 h given z.h is 50 %RH at 08:10 z.h is 140 %RH at 08:20 the house restarts expect count(problem "refused") at most 1 }',
  ],
  [
    "of several moments that were missed the last is made up for",
    "zone z { output lamp: on/off }",
    'rule r { when every 1 h do { tell "Hour" } }',
    'trial t { from 2026-03-14 07:40 for 3 h at 07:50 the house is down for 2 h 12 min expect told "Hour" at 10:02 }',
  ],
  [
    "a hand without a time ends after what a hand lasts, whatever mode a rule mentions",
    "zone z { sensor m: moving/still output lamp: on/off }",
    "mode shop: open/closed, at first open",
    "rule r { while z.m is moving and shop is open hold z.lamp at on }",
    "trial t { from 2026-03-14 08:00 for 26 h given z.m is moving at 08:10 person sets z.lamp to off expect z.lamp is on from 2026-03-14 10:10 }",
  ],
  [
    "a change by so much is seen between reports of what is smoothed",
    "zone z { sensor t: °C, smooth over 5 min output lamp: on/off }",
    'rule r { when z.t changes by 1 K do { tell "moved" } }',
    'trial t { from 2026-03-14 08:00 for 1 h given z.t is 18 °C at 08:10 z.t is 22 °C expect count(told "moved") at least 4 }',
  ],
  [
    "how often a sensor reports is remembered while it is silent",
    "zone z { sensor t: °C, unknown after 90 s output lamp: on/off }",
    "rule r { while z.t is not unknown hold z.lamp at on }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.t is 18 °C at 08:00 z.t reports every 10 min at 08:15 z.t falls silent at 08:25 z.t is 20 °C expect z.lamp is off at 08:28 }",
  ],
  [
    "a cycle of what has been so for ever begins with the trial",
    "zone z { sensor h: %RH output fan: on/off output dry: on/off }",
    "rule r { while z.h above 60 %RH cycle z.fan on 7 min off 20 min }",
    "rule s { while (z.h above 60 %RH) until (z.h below 50 %RH), at most 10 min then pause 5 min hold z.dry at on }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.h is 70 %RH expect z.fan is on from 08:00 to 08:07 expect z.dry is on from 08:00 to 08:10 }",
  ],
  [
    "a person runs a rule with what the instant brings, and once",
    "zone z { sensor door: open/closed output lamp: on/off }",
    'rule r { when z.door is open do { if z.door is open { tell "open" } else { tell "shut" } } }',
    'trial t { from 2026-03-14 08:00 for 1 h given z.door is closed at 08:10 z.door is open at 08:10 person runs r expect count(told "shut") at most 0 expect count(told "open") at most 1 }',
  ],
  [
    "a sensor that falls silent is a problem",
    "zone z { sensor t: °C, unknown after 5 min output lamp: on/off }",
    'trial t { from 2026-03-14 08:00 for 1 h given z.t is 18 °C at 08:10 z.t falls silent expect problem "silent" by 08:15 }',
  ],
  [
    "an output that does not obey is a problem",
    "zone z { sensor t: °C output lamp: on/off }",
    "rule r { while z.t above 20 °C hold z.lamp at on }",
    'trial t { from 2026-03-14 08:00 for 1 h given z.t is 18 °C at 08:05 z.lamp refuses at 08:10 z.t is 22 °C expect problem "disobeys" by 08:11 }',
  ],
  ["a trial may expect nothing", "zone z { output lamp: on/off }", "trial t { from 2026-03-14 08:00 for 1 h }"],
  [
    "the clock put back over a beginning fires nothing",
    "zone z { output lamp: on/off }",
    "schedule s { daily 08:10 to 09:00 }",
    'rule a { when s begins do { tell "begin" } }',
    'rule b { when s ends do { tell "end" } }',
    'rule c { when clock from 08:10 to 09:00 do { tell "cond" } }',
    'trial t { from 2026-03-14 08:00 for 2 h at 08:15 the clock jumps by -10 min expect count(told "begin") at most 1 expect count(told "end") at most 1 expect count(told "cond") at most 1 }',
  ],
  [
    "a memory is what was given for ever makes of it",
    "zone z { sensor door: open/closed sensor level: low/ok/full output lamp: on/off output fan: on/off }",
    "rule r { while ((z.door is closed) until (z.level is not full for 5 min)) until (z.lamp is on) hold z.fan at on }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.door is closed, z.level is ok expect z.fan is off from 08:00 }",
  ],
  [
    "a group ramps at once",
    "zone z { output l: 0..100 % output m: 0..100 % }",
    "group lights = z.l, z.m",
    "rule e { when at 08:10 do { ramp lights from 0 % to 100 % over 5 min } }",
    "trial t { from 2026-03-14 08:00 for 1 h expect z.m at least 100 % at 08:15 }",
  ],
  [
    "a dose that is cut by the house going down is told",
    "zone z { output pump: on/off, delivers 12 ml/s }",
    "rule r { when at 08:10 do { dose z.pump 1200 ml } }",
    'trial t { from 2026-03-14 08:00 for 1 h at 08:10:10 the house is down for 5 min expect problem "dose" by 08:20 }',
  ],
  [
    "a longest run does not end against a guard",
    "zone z { sensor level: low/high output pump : on/off, on at most 5 min then off at least 2 min }",
    "guard flood { permit z.pump off only while z.level is low }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.level is low at 08:10 z.level is high expect z.pump is on from 08:10 }",
  ],
  [
    "a value beyond the range of its output is cut to it",
    "zone z { sensor t: °C output valve: 5..30 °C, at rest 8 °C output lamp: 0..100 % dial d: 0..100 %, at first 80 %, step 1 % }",
    "rule r { hold z.valve at z.t + 5 K }",
    "rule s { when z.t above 40 °C do { ramp z.lamp from 0 % to z.d + 60 % over 2 min } }",
    "trial t { from 2026-03-14 08:00 for 30 min given z.t is 20 °C at 08:10 z.t is 50 °C expect always z.valve at most 30 °C expect always z.lamp at most 100 % }",
  ],
  [
    "each of the two crossings of a time in autumn counts",
    "zone z { output valve: 5..30 °C, at rest 8 °C }",
    "rule r { while clock.time below 02:13 hold z.valve at 20 °C }",
    "trial t { from 2026-10-25 01:45 for 4 h expect count(z.valve below 10 °C) at least 2 }",
  ],
  [
    "nothing remembers what only stood between two steps",
    "zone z { sensor h: %RH sensor go: press output humidifier: on/off dial moisture: 35..60 %RH, at first 50 %RH, step 0.5 %RH dial slack : 0.5..8 %RH, at first 6 %RH, step 0.5 %RH }",
    "rule k { keep z.h at z.moisture ± z.slack raise with z.humidifier }",
    "rule s { when z.go is pressed do { set z.slack to 1 %RH set z.moisture to 46 %RH } }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.h is 45.5 %RH at 08:10 z.go is pressed expect always z.humidifier is off }",
  ],
  // ── Newer sentences ──
  [
    "readings last as long as the house says, but for words and for what says it itself",
    'house "more" { readings last 5 min }',
    "zone z { sensor t: °C sensor own: °C, unknown after 20 min sensor ever: °C, lasts for ever sensor door: open/closed sensor d: min output o: on/off }",
    'rule r { when z.t becomes unknown do { tell "gone" } }',
    "trial t { from 2026-03-14 08:00 for 1 h given z.t is 20 °C, z.own is 20 °C, z.ever is 20 °C, z.door is open, z.d is 3 min at 08:10 z.t falls silent at 08:10 z.own falls silent at 08:10 z.ever falls silent at 08:10 z.door falls silent at 08:10 z.d falls silent",
    'expect z.t is unknown from 08:14 expect told "gone" at 08:14 expect z.own is 20 °C at 08:28 expect z.own is unknown from 08:29 expect z.ever is 20 °C at 09:00 expect z.door is open at 09:00 expect z.d is 3 min at 09:00 }',
  ],
  [
    "a reading that jumped further than a sensor moves is refused, more so the sooner it comes",
    "zone z { sensor t: °C, moves at most 3 K in 1 min, reports every 10 min, lasts for ever }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.t is 20 °C at 08:01 z.t is 23 °C at 08:02 z.t is 26.5 °C at 08:05 z.t is 35 °C",
    'expect z.t is 23 °C at 08:01 expect problem "refused" at 08:02 expect z.t is 23 °C at 08:04 expect z.t is 35 °C at 08:05 }',
  ],
  [
    "what lasts at most so long does not begin again before it has been false",
    "zone z { sensor t: °C output o: on/off output p: on/off }",
    "rule r { while z.t above 20 °C until below 18 °C, at most 10 min hold z.o at on }",
    "rule s { while (z.t above 20 °C) until (z.t below 18 °C), at most 10 min then pause 5 min hold z.p at on }",
    "trial t { from 2026-03-14 08:00 for 1 h given z.t is 19 °C at 08:05 z.t is 21 °C at 08:30 z.t is 20 °C at 08:35 z.t is 21 °C at 08:40 z.t is 17 °C at 08:41 z.t is 21 °C",
    "expect z.o is on from 08:05 to 08:15 expect z.o is off from 08:15 to 08:35 expect z.o is on from 08:35 to 08:40 expect z.o is off from 08:40 to 08:41 expect z.o is on from 08:41 to 08:51",
    "expect z.p is on from 08:05 to 08:15 expect z.p is off from 08:15 to 08:20 expect z.p is on from 08:20 to 08:30 }",
  ],
  [
    "a cold trial begins as a new house does",
    "zone z { sensor t: °C output o: on/off }",
    'rule r { when z.t is unknown do { tell "silent" } }',
    'rule s { when z.t above 10 °C do { tell "warm" } }',
    'trial cold { from 2026-03-14 08:00 for 1 h cold expect told "silent" at 08:00 }',
    'trial warm { from 2026-03-14 08:00 for 1 h cold given z.t is 20 °C expect told "warm" at 08:00 }',
    'trial given { from 2026-03-14 08:00 for 1 h expect never told "silent" }',
  ],
  [
    "what the wiring writes is sent: what changes, all at first, and all anew on return",
    "zone z { sensor t: °C output o: on/off output p: on/off }",
    "rule r { while z.t above 20 °C hold z.o at on }",
    'wire w { z.o to "o" writing on as "1", off as "0" z.p to "p" }',
    'trial t { from 2026-03-14 08:00 for 1 h given z.t is 19 °C at 08:10 z.t is 21 °C at 08:20 the house restarts expect sent "0" to "o" at 08:00 expect sent "off" to "p" at 08:00 expect sent "1" to "o" at 08:10 expect never sent "1" to "o" from 08:11 to 08:20 expect sent "1" to "o" at 08:20 expect count(sent "off" to "p") is 2 }',
  ],
];

test.each(houses)("%s", (_, ...lines) => {
  const { house, problems } = parseHouse({ "h.modrik": head + lines.join("\n") });
  expect(problems.map(({ reason }) => reason)).toEqual([]);
  for (const { verdicts } of runTrials(house)) expect(verdicts.flatMap(({ says, passed }) => (passed ? [] : [says]))).toEqual([]);
});

const houseOf = (text: string) => parseHouse({ "h.modrik": head + text }).house;

describe("the journal", () => {
  test("says of a refused reading when it came", () => {
    const journal = new Journal();
    const engine = createEngine(houseOf("zone z { sensor h: %RH, 0..100 %RH }"), { at: 0, journal });
    engine.report("z.h", 50, 1000);
    engine.report("z.h", 140, 3_600_000);
    engine.report("z.h", 150, 3_700_000);
    engine.advanceTo(4_000_000);
    expect(journal.records.flatMap(({ at, event }) => (event.kind === "problem" ? [[at, event.code]] : []))).toEqual([
      [3_600_000, "refused"],
    ]);
  });

  test("is the same in whatever order the reports of an instant come", () => {
    const house = houseOf(
      "zone z { sensor a: °C sensor b: °C sensor k: press output o: on/off } rule r { while z.a above z.b hold z.o at on }",
    );
    const journalOf = (...reports: readonly (readonly [string, number])[]) => {
      const journal = new Journal();
      const engine = createEngine(house, { at: 0, journal });
      for (const [sensor, value] of reports) engine.report(sensor, value, 1000);
      engine.advanceTo(2000);
      return JSON.stringify(journal.records);
    };
    expect(journalOf(["z.a", 20], ["z.b", 19])).toBe(journalOf(["z.b", 19], ["z.a", 20]));
  });

  test("says how much a dose gave that was cut by the house going down", () => {
    const text = "zone z { output pump: on/off, delivers 12 ml/s } rule r { when at 08:10 do { dose z.pump 1200 ml } }";
    const trial =
      'trial t { from 2026-03-14 08:00 for 1 h at 08:10:10 the house is down for 5 min expect problem "dose" by 08:20 }';
    const [result] = runTrials(houseOf(`${text} ${trial}`));
    const { past, from, to } = result?.run ?? ({} as Run);
    expect(past.problems(from, to).map(({ text: said }) => said)).toEqual([
      "z.pump: 120 of 1200 ml, stopped by the controller going down",
    ]);
  });
});

describe("a time outside its trial is an error", () => {
  const zone = "zone z { sensor k: press output o: on/off }";
  test.each([
    ["expected after its end", "from 2026-03-14 08:00 for 1 h expect z.o is off at 10:00"],
    ["expected until after its end", "from 2026-03-14 08:00 to 09:00 expect never z.o is on from 08:30 to 09:30"],
    ["before its beginning, which is the next day", "from 2026-03-14 08:00 to 09:00 expect z.o is off at 07:10"],
    ["that happens after its end", "from 2026-03-14 08:00 to 09:00 at 09:10 z.k is pressed expect z.o is off"],
    ["that comes later than its end", "from 2026-03-14 08:00 to 09:00 90 min later z.k is pressed expect z.o is off"],
  ])("%s", (_, trial) => {
    const { problems } = parseHouse({ "h.modrik": `${head}${zone} trial t { ${trial} }` });
    expect(problems.map(({ code }) => code)).toEqual(["out-of-range"]);
    expect(problems[0]?.reason).toMatch(/ is outside the trial, which runs from 2026-03-14 08:00 (for 1 h|to 09:00)\.$/);
  });

  test.each([
    ["at its very end", "from 2026-03-14 08:00 to 09:00 at 09:00 z.k is pressed expect z.o is off at 09:00"],
    ["in one that has no end", "from 2026-03-14 08:00 expect z.o is off at 07:10"],
    ["of the sun", "from 2026-03-14 12:00 expect z.o is off at sunset - 10 min"],
  ])("but not %s", (_, trial) => {
    const place = 'house "H" { clock "Europe/Zurich" place 46.95 N, 7.45 E }';
    const { house, problems } = parseHouse({ "h.modrik": `${place}${zone} trial t { ${trial} }` });
    expect(problems).toEqual([]);
    expect(runTrials(house)[0]?.passed).toBe(true);
  });
});
