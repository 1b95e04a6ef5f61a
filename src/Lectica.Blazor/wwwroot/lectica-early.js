// A page that is drawn before the program behind it answers is pressed before, too. What is done to a list by then is kept here, in order,
// and handed to the list as it comes. Such a page loads this script with its rows, so that none are seen before; else the module brings it.
(() => {
    const name = Symbol.for('lectica.kept'), answers = Symbol.for('lectica.answers');
    if (document[name]) return;
    const hosts = '.lectica-viewport:not(.lectica-options), .lectica-choice-field, .lectica-toolbar';
    const buttons = '.lectica-header button, .lectica-columns button, .lectica-toolbar button';
    // Controls that an app's template puts into a row work by themselves.
    const ownControls = 'a[href], button, input, select, textarea, [contenteditable], [data-lectica-own]';
    // A press has as many moves as a few drags, and a page that never answers keeps no more for that.
    const mostMoves = 400, mostKept = 4000;
    // Each with the element that has the list's keyboard, and with its place among such: drawn again, it may have another id. And with the
    // page: another that comes into the same document is not meant.
    const kept = [];
    // What a pointer that is down has pressed, and how often it has moved since: it ends there, wherever it is by then.
    const pressed = new Map();

    function keep(host, e, more) {
        if (kept.length === mostKept) return;
        const { type, key, pointerId, pointerType, isPrimary, pressure, button, buttons, timeStamp } = e;
        const { ctrlKey, shiftKey, altKey, metaKey } = e;
        kept.push({
            host, place: all().indexOf(host), path: location.pathname,
            type, key, pointerId, pointerType, isPrimary, pressure, button, buttons, timeStamp, ctrlKey, shiftKey, altKey, metaKey, ...more,
        });
    }

    // Where in what is scrolled, and in which row: until there is an answer both may have gone on.
    function placeOf(host, target, x, y) {
        const box = host.getBoundingClientRect(), row = target.closest?.('.lectica-content .lectica-row');
        const at = row?.getBoundingClientRect();
        return {
            x: x - box.left + host.scrollLeft, y: y - box.top + host.scrollTop,
            row, inRow: row && { x: x - at.left, y: y - at.top },
        };
    }

    const all = () => [...document.querySelectorAll(hosts)];
    // The element itself, or the one that has been drawn in its place.
    const nowOf = ({ host, place }) => host.isConnected ? host : document.getElementById(host.id) ?? all()[place];
    const buttonsOf = around => [...around.querySelectorAll(buttons)];
    const hostOf = target => {
        const host = target.closest?.(hosts);
        return !host || host[answers] || target.closest(ownControls) ? null : host;
    };

    const listen = (names, take, options = {}) =>
        names.split(' ').forEach(name => document.addEventListener(name, take, { capture: true, ...options }));
    listen('pointerdown', e => {
        const host = hostOf(e.target);
        if (!host) return;
        pressed.set(e.pointerId, { host, place: all().indexOf(host), moves: 0 });
        keep(host, e, placeOf(host, e.target, e.clientX, e.clientY));
    }, { passive: true });
    listen('pointermove pointerup pointercancel', e => {
        const press = pressed.get(e.pointerId), isMove = e.type === 'pointermove';
        if (!press || (isMove && ++press.moves > mostMoves)) return;
        if (!isMove) pressed.delete(e.pointerId);
        const host = nowOf(press);
        if (host) keep(host, e, placeOf(host, e.target, e.clientX, e.clientY));
    }, { passive: true });
    // A key that is held was pressed once, and goes on where it shows.
    listen('keydown', e => {
        const host = hostOf(e.target);
        if (host === e.target && !e.repeat) keep(host, e);
    });
    // Who comes to the list before the program keeps the keyboard.
    listen('focusin', e => {
        const host = hostOf(e.target);
        if (host === e.target) keep(host, e);
    });
    // What is scrolled stays so.
    listen('scroll', e => {
        if (!hostOf(e.target)) return;
        const before = kept.findIndex(({ host, type }) => host === e.target && type === 'scroll');
        if (before >= 0) kept.splice(before, 1);
        keep(e.target, e, { x: e.target.scrollLeft, y: e.target.scrollTop });
    }, { passive: true });
    listen('click', e => {
        const own = e.target.closest?.(buttons);
        if (own) {
            const around = own.closest('.lectica-toolbar, .lectica'), host = around.matches(hosts) ? around : around.querySelector(hosts);
            if (!host[answers]) keep(host, e, { own, ownPlace: buttonsOf(around).indexOf(own) });
            return;
        }
        // A click without a pointer is assistive technology's: a tap there.
        const host = e.detail === 0 ? hostOf(e.target) : null;
        if (!host) return;
        const box = e.target.getBoundingClientRect(), at = placeOf(host, e.target, box.left + box.width / 2, box.top + box.height / 2);
        for (const type of ['pointerdown', 'pointerup']) keep(host, e, { ...at, type, pointerId: -1, button: 0, buttons: 0 });
    });
    // The list will have a menu of its own.
    listen('contextmenu', e => { if (hostOf(e.target)) e.preventDefault(); });

    document[name] = {
        /**
         * What has been done to an element by now, or to the one in whose place it has been drawn. It is kept no more, nor is what was done
         * on a page that has been left.
         */
        take(element) {
            element[answers] = true;
            const its = [], others = [];
            for (const e of kept) if (e.path === location.pathname) (nowOf(e) === element ? its : others).push(e);
            kept.splice(0, kept.length, ...others);
            for (const [pointer, press] of pressed) if (nowOf(press) === element) pressed.delete(pointer);
            return its;
        },
        ownControls,
        /** Presses a button again that was pressed, unless it was the program's already and has answered by itself. */
        pressAgain(element, { host, own, ownPlace }) {
            if (!own || host === element) return;
            const { command } = own.dataset, now = buttonsOf(element.closest('.lectica-toolbar, .lectica'));
            (command ? now.find(e => e.dataset.command === command) : now[ownPlace])?.click();
        },
    };
})();
