import puppeteer from 'puppeteer-core';
const [,, url, out, size='1280x800', ...steps] = process.argv;
const [width,height]=size.split('x').map(Number);
const b = await puppeteer.launch({executablePath:'/usr/bin/chromium',headless:true,args:['--no-sandbox','--disable-gpu','--disable-quic','--no-first-run','--disable-background-networking','--disable-component-update','--disable-sync']});
const p = await b.newPage(); await p.setViewport({width,height});
p.on('console',m=>console.log('console.'+m.type(),m.text())); p.on('pageerror',e=>console.log('ERR',e.message, (e.stack||'').slice(0,600)));
p.on('requestfailed',r=>console.log('FAILED',r.url(),r.failure()?.errorText)); p.on('response',r=>r.status()>=400&&console.log(r.status(),r.url()));
if(process.env.DARK) await p.emulateMediaFeatures([{name:'prefers-color-scheme',value:'dark'}]);
await p.goto(url,{waitUntil:'load'}); await new Promise(r=>setTimeout(r,+(process.env.WAIT??1500)));
for (const s of steps){ console.log('->', JSON.stringify(await p.evaluate(s))); await new Promise(r=>setTimeout(r,600)); }
await p.screenshot({path:out, fullPage: !!process.env.FULL}); await b.close();
