// What of a list is seen, and how that is scrolled. Places are the window's, px.

/**
 * @returns where the part of the list that is seen begins (`origin`), how far into the list that is (`top`), how high it is (`height`), how
 *     to bring another part there (`to`), and who tells of scrolling (`scroller`)
 */
export const attachScrolling = (root, element, viewport) =>
    root.classList.contains('is-flowing') ? withThePage(root, viewport) : byItself(root, element, viewport);

/** Where an element begins and ends as it is drawn, which is on whole pixels of the screen. */
function drawn(element) {
    const box = element.getBoundingClientRect(), whole = length => Math.round(length * devicePixelRatio) / devicePixelRatio;
    return { left: whole(box.left), top: whole(box.top), bottom: whole(box.bottom) };
}

/** A list with a height of its own scrolls its rows; a strip does so sideways, and from the right where it runs so. */
function byItself(root, element, viewport) {
    const isStrip = root.classList.contains('is-strip'), way = getComputedStyle(root).direction === 'rtl' ? -1 : 1;
    return {
        flows: false,
        scroller: viewport,
        origin: () => drawn(element),
        top: () => isStrip ? way * viewport.scrollLeft : viewport.scrollTop,
        height: () => viewport.clientHeight || element.clientHeight,
        to: top => {
            viewport[isStrip ? 'scrollLeft' : 'scrollTop'] = isStrip ? way * top : top;
            return isStrip ? way * viewport.scrollLeft : viewport.scrollTop;
        },
        fit: () => { },
    };
}

/**
 * A list that is as high as its rows is scrolled by what is around it, mostly the page. What is seen of it begins below its own header,
 * which stays, and below what the page has there, as its scroll-padding says.
 */
function withThePage(root, viewport) {
    const around = scrollerOf(root), isPage = around === document.scrollingElement;
    let above = 0, below = 0;
    const edges = () => {
        const from = isPage ? 0 : drawn(around).top + around.clientTop;
        return { from: from + above, to: from + around.clientHeight - below };
    };
    const originOf = (box, from) => Math.min(Math.max(box.top, from), box.bottom);
    const origin = () => {
        const box = drawn(viewport);
        return { left: box.left, top: originOf(box, edges().from) };
    };
    const top = () => {
        const box = drawn(viewport);
        return originOf(box, edges().from) - box.top;
    };
    return {
        flows: true,
        scroller: isPage ? document : around,
        origin,
        top,
        height: () => {
            const box = drawn(viewport), { from, to } = edges();
            return Math.min(box.bottom, to) - originOf(box, from);
        },
        to: wanted => {
            around.scrollBy({ top: wanted - top(), behavior: 'instant' });
            return wanted;
        },
        fit: () => {
            const style = getComputedStyle(around), heads = [...root.querySelectorAll(':scope > :is(.lectica-header, .lectica-columns)')];
            const padding = parseFloat(style.scrollPaddingTop) || 0, high = heads.map(head => head.offsetHeight);
            above = high.reduce((sum, each) => sum + each, padding);
            below = parseFloat(style.scrollPaddingBottom) || 0;
            root.style.setProperty('--lectica-from', `${padding}px`);
            root.style.setProperty('--lectica-head', `${above - (heads.at(-1)?.matches('.lectica-columns') ? high.at(-1) : 0)}px`);
            root.style.setProperty('--lectica-above', `${above}px`);
            root.style.setProperty('--lectica-seen', `${edges().to - edges().from}px`);
        },
    };
}

function scrollerOf(element) {
    for (let at = element.parentElement; at; at = at.parentElement)
        if (at !== document.body && at !== document.documentElement && /^(auto|scroll)$/.test(getComputedStyle(at).overflowY)) return at;
    return document.scrollingElement;
}
