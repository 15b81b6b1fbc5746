#!/bin/sh
# Told by udhcpc(8) what happened: sets the address, and writes down what the lease says. EVENTS is a file.
case "$1" in
  deconfig) ip addr flush dev "$interface" scope global ;;
  bound | renew)
    ip addr replace "$ip/$mask" dev "$interface"
    for r in $router; do ip route replace default via "$r"; break; done ;;
esac
{ echo "event=$1"; env | grep -E '^(ip|mask|router|dns|domain|search|serverid|lease|ntpsrv|opt[0-9]+|staticroutes)='; echo end; } >> "$EVENTS"
