/** How the page of a folder to listen to looks: the same quiet paper as the application, without its fonts. */
export const LISTENING_STYLE = `
:root{--paper:#f6f0e8;--ink:#23282b;--muted:#63605a;--rule:#d8cfc0;--accent:#0b6170;--danger:#a3341f}
@media (prefers-color-scheme:dark){:root{--paper:#1b1f20;--ink:#e8e2d6;--muted:#a8a297;--rule:#3a3f40;--accent:#62b9c8;--danger:#f08d76}}
*{box-sizing:border-box}
body{margin:0 auto;max-width:46rem;padding:1rem;background:var(--paper);color:var(--ink);font:1rem/1.45 "Source Sans 3","Segoe UI",system-ui,sans-serif}
header{display:flex;gap:1rem;align-items:flex-end;margin-bottom:1rem}
header img{width:min(40vw,11rem);height:auto}
h1{margin:0;font:600 1.6rem/1.15 "Source Serif 4",Georgia,serif;overflow-wrap:anywhere}
h2{margin:1.5rem 0 .4rem;font:600 1.1rem/1.2 "Source Serif 4",Georgia,serif;border-bottom:2px solid var(--ink)}
p{margin:.2rem 0}.quiet{color:var(--muted);font-size:.9rem}
button,input,textarea{font:inherit;color:inherit}
button{padding:.55rem .9rem;border:1px solid var(--rule);border-radius:3px;background:none;cursor:pointer;min-height:44px}
button.main{background:var(--accent);border-color:var(--accent);color:var(--paper)}
button:focus-visible,input:focus-visible,textarea:focus-visible{outline:2px solid var(--accent);outline-offset:2px}
.deck{position:sticky;top:0;z-index:1;padding:.5rem 0;background:var(--paper);border-bottom:1px solid var(--rule)}
.deck div{display:flex;gap:.75rem;align-items:center}
.clock{font-size:1.4rem;font-weight:600;font-variant-numeric:tabular-nums}
.line{position:relative;height:34px;margin-top:.4rem;border:1px solid var(--rule);cursor:pointer;touch-action:none}
.line i{position:absolute;top:0;bottom:0;background:var(--rule)}
.line b{position:absolute;top:-3px;bottom:-3px;width:2px;background:var(--accent)}
.line u{position:absolute;top:0;width:0;border:5px solid transparent;border-top-color:var(--danger);margin-left:-5px}
ol,ul{list-style:none;margin:0;padding:0}
li{display:grid;grid-template-columns:2rem 1fr auto;gap:.5rem;align-items:baseline;padding:.35rem 0;border-bottom:1px solid var(--rule)}
ol button{border:0;padding:0;text-align:left;min-height:32px;overflow-wrap:anywhere}
li.now{color:var(--accent);font-weight:600}
.num{font-variant-numeric:tabular-nums;color:var(--muted)}
.notes li{grid-template-columns:4.5rem 1fr auto}
input,textarea{width:100%;padding:.5rem;border:1px solid var(--rule);border-radius:3px;background:none}
label{display:block;margin:.6rem 0}
fieldset{border:0;margin:.6rem 0;padding:0}
fieldset label{display:flex;gap:.5rem;align-items:center;margin:.3rem 0}
fieldset input{width:1.2rem;height:1.2rem}
.fault{color:var(--danger)}
`;

/** What the page does: plain script of any browser of these years, which plays from a disk without a server. */
export const LISTENING_SCRIPT = `
(function(){
'use strict';
var page=JSON.parse(document.getElementById('page').textContent);
var texts=JSON.parse(document.getElementById('texts').textContent);
var lang=(navigator.languages||[navigator.language||'en']).map(function(l){return l.split('-')[0]}).filter(function(l){return texts[l]})[0]||'en';
function T(text,values){var own=texts[lang][text]||text;Object.keys(values||{}).forEach(function(k){own=own.split('{'+k+'}').join(values[k])});return own}
function titleOf(t){return t.title||T('Untitled')}
document.documentElement.lang=lang;
document.title=T('{title} – listening copy',{title:titleOf(page)});
document.querySelector('h1').textContent=titleOf(page);
document.querySelector('header .quiet').textContent=T('Revision {number}',{number:page.revision});
var cover=document.querySelector('header img');if(cover)cover.alt=T('Cover of {title}',{title:titleOf(page)});
var main=document.querySelector('main');
var key='oiseau-listen '+page.files.map(function(f){return f.sha256}).join('').slice(0,64);
var kept={name:'',verdict:'',words:'',notes:[]};
try{kept=Object.assign(kept,JSON.parse(localStorage.getItem(key)||'{}'))}catch(e){}
function keep(){try{localStorage.setItem(key,JSON.stringify(kept))}catch(e){}}
function el(name,props,children){var e=document.createElement(name);Object.keys(props||{}).forEach(function(k){if(k.indexOf('on')===0)e.addEventListener(k.slice(2),props[k]);else if(k in e&&k!=='list')e[k]=props[k];else e.setAttribute(k,props[k])});(children||[]).forEach(function(c){e.append(c)});return e}
function clock(s){s=Math.max(0,s);var h=Math.floor(s/3600),m=Math.floor(s/60)%60,r=Math.floor(s%60);return (h?h+':'+String(m).padStart(2,'0'):m)+':'+String(r).padStart(2,'0')}
var audio=el('audio',{preload:'metadata'});
var index=-1,time=el('span',{className:'clock'}),sounding=el('span',{className:'quiet'}),line=el('div',{className:'line',role:'slider','aria-label':T('Position'),tabIndex:0,'aria-valuemin':'0'}),mark=el('b');
var play=el('button',{className:'main',type:'button',onclick:function(){toggle()}},[T('Play')]);
var fault=el('p',{className:'fault',role:'alert'});
function part(){return page.parts[index]}
function open(i,at,on){if(i!==index){index=i;audio.src=part().path.split('/').map(encodeURIComponent).join('/');draw()}function go(){audio.currentTime=at;if(on)start()}if(audio.readyState>0)go();else audio.addEventListener('loadedmetadata',go,{once:true})}
function start(){audio.play().catch(function(){fault.textContent=T('The file “{path}” can’t be played. Keep it beside this page.',{path:part().path})})}
function toggle(){fault.textContent='';if(audio.paused)start();else audio.pause()}
function track(){var p=part(),n=0;p.tracks.forEach(function(t,i){if(t.start<=audio.currentTime+.01)n=i});return p.tracks[n]}
function tick(){var p=part(),at=audio.currentTime;time.textContent=clock(at);mark.style.left=100*Math.min(1,at/p.seconds)+'%';line.setAttribute('aria-valuenow',String(Math.round(at)));line.setAttribute('aria-valuetext',clock(at));var t=track();sounding.textContent=t?t.number+' '+titleOf(t):'';document.querySelectorAll('ol li').forEach(function(li){li.classList.toggle('now',Number(li.dataset.part)===index&&t&&Number(li.dataset.track)===t.number)})}
['timeupdate','seeked','loadedmetadata'].forEach(function(n){audio.addEventListener(n,tick)});
audio.addEventListener('play',function(){play.textContent=T('Stop')});
audio.addEventListener('pause',function(){play.textContent=T('Play')});
audio.addEventListener('ended',function(){if(index+1<page.parts.length)setTimeout(function(){open(index+1,0,true)},1000)});
function place(e){var r=line.getBoundingClientRect();return Math.min(1,Math.max(0,(e.clientX-r.left)/r.width))*part().seconds}
line.addEventListener('pointerdown',function(e){open(index,place(e),!audio.paused)});
document.addEventListener('keydown',function(e){if(/INPUT|TEXTAREA|BUTTON/.test(e.target.tagName))return;if(e.key===' '){e.preventDefault();toggle()}if(e.key==='ArrowLeft')audio.currentTime-=5;if(e.key==='ArrowRight')audio.currentTime+=5});
function draw(){line.textContent='';var p=part();p.tracks.forEach(function(t){line.append(el('i',{style:'left:'+100*t.start/p.seconds+'%;width:'+100*(t.end-t.start)/p.seconds+'%;opacity:'+(t.number%2?.9:.55)}))});kept.notes.forEach(function(n){if(n.path===p.path)line.append(el('u',{style:'left:'+100*n.seconds/p.seconds+'%'}))});line.append(mark);line.setAttribute('aria-valuemax',String(Math.round(p.seconds)))}
var list=el('ul',{className:'notes'});
function notes(){list.textContent='';kept.notes.sort(function(a,b){return a.path<b.path?-1:a.path>b.path?1:a.seconds-b.seconds});kept.notes.forEach(function(n){var i=page.parts.findIndex(function(p){return p.path===n.path});list.append(el('li',{},[el('button',{type:'button',onclick:function(){open(i,n.seconds,true)}},[clock(n.seconds)]),el('input',{value:n.text,maxLength:4000,'aria-label':T('Note at {time}',{time:clock(n.seconds)}),placeholder:T('Your note'),oninput:function(e){n.text=e.target.value;keep()}}),el('button',{type:'button','aria-label':T('Delete the note at {time}',{time:clock(n.seconds)}),onclick:function(){kept.notes.splice(kept.notes.indexOf(n),1);keep();notes();draw()}},['×'])]))});}
var note=el('button',{type:'button',onclick:function(){kept.notes.push({path:part().path,seconds:Math.round(audio.currentTime*1000)/1000,text:''});keep();notes();draw();var last=list.querySelectorAll('input');if(last.length)last[last.length-1].focus()}},[T('Add a note here')]);
main.append(audio,el('div',{className:'deck'},[el('div',{},[play,time,sounding]),line,fault]),el('p',{},[note]));
page.parts.forEach(function(p,i){if(page.parts.length>1)main.append(el('h2',{},[T(p.kind==='side'?'Side {label}':'Disc {label}',{label:p.label})]));else main.append(el('h2',{},[T('Tracks')]));var ol=el('ol');p.tracks.forEach(function(t,k){var next=p.tracks[k+1],gap=next?next.start-t.end:0;var li=el('li',{},[el('span',{className:'num'},[String(t.number)]),el('button',{type:'button',onclick:function(){fault.textContent='';open(i,t.start,true)}},[titleOf(t)+(t.performer?' – '+t.performer:'')]),el('span',{className:'num',title:next?(gap<0?T('runs into the next track'):T('{seconds} s until the next track',{seconds:gap.toLocaleString(lang,{minimumFractionDigits:1,maximumFractionDigits:1})})):''},[clock(t.end-t.start)])]);li.dataset.part=i;li.dataset.track=t.number;ol.append(li)});main.append(ol)});
main.append(el('h2',{},[T('Your notes')]),list);
var told=el('p',{className:'quiet',role:'status'});
function choice(value,words){var input=el('input',{type:'radio',name:'verdict',value:value,checked:kept.verdict===value,onchange:function(){kept.verdict=value;keep()}});return el('label',{},[input,words])}
main.append(el('h2',{},[T('Your response')]),el('form',{onsubmit:function(e){e.preventDefault();if(!kept.name.trim()){told.textContent=T('Enter your name.');return}if(!kept.verdict){told.textContent=T('Do you approve this, or would you like a change?');return}
var answer={format:'oiseau-answer',version:1,title:page.title,revision:page.revision,deliverable:page.deliverable,name:kept.name.trim(),verdict:kept.verdict,words:kept.words,notes:kept.notes,files:page.files};
var link=el('a',{href:URL.createObjectURL(new Blob([JSON.stringify(answer,null,2)],{type:'application/json'})),download:'answer '+(page.title||'album').replace(/[^\\w -]+/g,'')+' r'+page.revision+'.json'});document.body.append(link);link.click();link.remove();told.textContent=T('Your response was saved as a small file. Send it back.')}},[
el('label',{},[T('Your name'),el('input',{value:kept.name,maxLength:200,oninput:function(e){kept.name=e.target.value;keep()}})]),
el('fieldset',{},[choice('approved',T('Approve')),choice('change',T('Request a change'))]),
el('label',{},[T('Comment'),el('textarea',{rows:3,maxLength:10000,value:kept.words,oninput:function(e){kept.words=e.target.value;keep()}})]),
el('button',{className:'main',type:'submit'},[T('Save response')]),told]));
notes();open(0,0,false);
})();
`;
