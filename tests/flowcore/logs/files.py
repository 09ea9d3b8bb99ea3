"""Log files for the tests, written to a folder."""

from pathlib import Path


def a_file(folder: Path, text: str | bytes, name: str = "log.csv") -> Path:
    path = folder / name
    path.write_bytes(text if isinstance(text, bytes) else text.encode())
    return path


KIOSK = """Ticket;Errand;Service;Printed;Called;Finished;Desk;Remark
P00001;Passport;Counter;01.03.2027 08:00:00;01.03.2027 08:02:30;01.03.2027 08:10:00;Desk 1;
P00001;Passport;Cashier;01.03.2027 08:10:00;01.03.2027 08:11:00;01.03.2027 08:12:15;Till;
R00002;Residence;Counter;01.03.2027 08:01:00;;01.03.2027 08:20:00;;gave up
R00003;Residence;Counter;01.03.2027 08:03:00;01.03.2027 08:10:00;;Desk 1;
"""
PHONE = """call_id,timestamp,event,queue,agent,subject
1,2027-03-01T08:00:00.000+01:00,queued,Lost property,,lost
1,2027-03-01T08:00:30.500+01:00,answered,Lost property,Agents 1,lost
2,2027-03-01T08:01:00.000+01:00,queued,Lost property,,lost
1,2027-03-01T08:05:00.000+01:00,hung up,Lost property,Agents 1,lost
2,2027-03-01T08:06:00.000+01:00,abandoned,Lost property,,lost
"""
XES = """<?xml version="1.0" encoding="UTF-8"?>
<log xes.version="1849.2016" xmlns="http://www.xes-standard.org/">
  <trace><string key="concept:name" value="17"/><string key="type" value="Lost"/>
    <event><string key="concept:name" value="Desk"/><string key="lifecycle:transition" value="schedule"/>
      <date key="time:timestamp" value="2027-03-01T08:00:00.000"/></event>
    <event><string key="concept:name" value="Desk"/><string key="lifecycle:transition" value="start"/>
      <date key="time:timestamp" value="2027-03-01T08:01:00.000"/><string key="org:resource" value="Clerk 1"/></event>
    <event><string key="concept:name" value="Desk"/><string key="lifecycle:transition" value="complete"/>
      <date key="time:timestamp" value="2027-03-01T08:09:00.000"/><string key="org:resource" value="Clerk 1"/></event>
  </trace>
</log>
"""
